"""Which views a draft has: every feature is shown true and visible, and none of the views could go."""

import pytest

from canonis.bench.gallery import GALLERY, drafted
from canonis.core.drafting.seen import spare_views, unseen_features
from canonis.core.features.recognition import recognise
from canonis.core.layout.collisions import page_collisions
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.views import Section


@pytest.mark.parametrize("name", sorted(GALLERY))
def test_every_feature_is_shown_and_no_view_could_go(name):
    draft, model = drafted(GALLERY[name])
    document = draft.document
    assert len({v.id for v in document.views}) == len(document.views)
    for page in document.pages:
        assert unseen_features(draft.scene, page, draft.features[page.solid]) == []
    assert spare_views(draft.scene, draft.features) == []
    assert all(v.reason for v in document.views)
    for page in compile_sheet(draft.scene).pages:
        found = page_collisions(page)
        assert found["text_on_text"] == []
    assert len(document.pages) == len(model.solids)


def kinds(name):
    draft, _ = drafted(GALLERY[name])
    return {v.kind: v for v in draft.document.views}, draft


def test_a_boss_inside_a_shell_is_cut_through_and_its_depth_stated_there():
    views, draft = kinds("moulded cowl")
    assert isinstance(views["section"], Section)
    cut = {v.id for v in draft.document.views if isinstance(v, Section)}
    assert recognise(draft.scene.solids[0]).shafts
    # The boss ends 16 above the rim: only a section shows it.
    assert [a.view in cut for a in draft.document.annotations if a.text == "16"] == [True]


def test_a_bore_into_another_bore_is_looked_at_from_its_mouth():
    views, _ = kinds("bored housing")
    assert "right" in views and "left" not in views


def test_two_solids_have_sheets_titles_and_masses_of_their_own():
    _, draft = kinds("two loose parts")
    pages = draft.document.pages
    assert [p.solid for p in pages] == [0, 1]
    titles = [p.title for p in pages]
    assert len(set(titles)) == 2 and all(titles)
    texts = [[t.text for t in p.texts] for p in compile_sheet(draft.scene).pages]
    assert [title in text for title, text in zip(titles, texts, strict=True)] == [True, True]
