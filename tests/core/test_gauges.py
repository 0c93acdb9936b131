"""What lines of a source are judged by is measured on the solid: the recogniser says where to look, never how big."""

from dataclasses import replace

import pytest

from canonis.core.features.recognition import recognise
from canonis.core.proof.match.items import items_of
from canonis.core.shape.implied import shape_of
from canonis.core.study.hints import hints_of
from tests.conftest import model_of, recipe
from tests.core.known_parts import PARTS

COUNTS = {"teeth", "sides", "starts", "walls", "faces", "count", "columns", "rows"}
#: No size of these parts is another one times this.
FALSE = 1.0731


def sizes(items):
    return [(i.kind, n, float(s.value)) for i in items for n, s in i.sizes.items() if not isinstance(s.value, bool)]


@pytest.mark.parametrize("name", sorted(PARTS))
def test_a_recogniser_that_is_wrong_about_every_size_changes_no_size_that_is_judged_by(name):
    (solid,) = model_of(recipe(*PARTS[name][0])).solids
    found = hints_of(recognise(solid)).features
    shape, _ = shape_of(solid)
    right = sizes(items_of(shape, found))
    wrong = [replace(one, sizes={n: v if n in COUNTS else v * FALSE for n, v in one.sizes.items()}) for one in found]
    for kind, size, value in sizes(items_of(shape, wrong)):
        assert any((kind, size) == r[:2] and abs(value - r[2]) < 1e-6 for r in right), (kind, size, value)
