"""Long runs of edits of a list by several people, against a plain model of what must come of them."""

import copy

from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from canonis.core.source.editing import FIELDS, add_lines, apply_edits, new_source

IDS = st.sampled_from([f"n{k}" for k in range(12)])
TEXTS = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=8)


class Desk(RuleBasedStateMachine):
    """Two people edit one list: one knows how it stands, the other is a step behind."""

    @initialize(count=st.integers(0, 4))
    def begin(self, count):
        self.source = add_lines(new_source(), [{"text": str(k)} for k in range(count)], "a")
        self.behind = copy.deepcopy(self.source)
        #: What must stand: ids in order, and each line's text.
        self.order = [x["id"] for x in self.source["lines"]]
        self.text = {x["id"]: x["text"] for x in self.source["lines"]}

    def apply(self, *ops):
        before = copy.deepcopy(self.source)
        made, conflicts, refused = apply_edits(self.source, list(ops))
        assert self.source == before, "the given source is left as it was"
        self.source = made
        return conflicts, refused

    def rev(self, line_id, source=None):
        return next((x["rev"] for x in (source or self.source)["lines"] if x["id"] == line_id), 1)

    @rule(line_id=IDS, after=IDS | st.none(), text=TEXTS)
    def insert(self, line_id, after, text):
        conflicts, refused = self.apply({"op": "insert", "id": line_id, "after": after, "line": {"text": text}})
        assert not conflicts and not refused
        if line_id in self.text:
            return
        at = 0 if after is None else self.order.index(after) + 1 if after in self.order else len(self.order)
        self.order.insert(at, line_id)
        self.text[line_id] = text

    @rule(line_id=IDS, text=TEXTS)
    def change(self, line_id, text):
        op = {"op": "set", "id": line_id, "rev": self.rev(line_id), "fields": {"text": text}}
        conflicts, refused = self.apply(op)
        assert not refused and bool(conflicts) == (line_id not in self.text)
        if line_id in self.text:
            self.text[line_id] = text

    @rule(line_id=IDS, text=TEXTS)
    def change_on_something_older(self, line_id, text):
        old = self.rev(line_id, self.behind)
        op = {"op": "set", "id": line_id, "rev": old, "fields": {"text": text}}
        there, now = line_id in self.text, self.rev(line_id)
        conflicts, _ = self.apply(op)
        if there and (old == now or self.text[line_id] == text):
            assert not conflicts
            self.text[line_id] = text
        else:
            # Nothing is written over; both sides come back.
            assert conflicts[0]["yours"] == {"text": text}
            assert (conflicts[0]["theirs"] or {}).get("text") == self.text.get(line_id)

    @rule(line_id=IDS)
    def remove(self, line_id):
        conflicts, refused = self.apply({"op": "remove", "id": line_id, "rev": self.rev(line_id)})
        assert not conflicts and not refused
        if line_id in self.text:
            self.order.remove(line_id)
            del self.text[line_id]

    @rule(line_id=IDS, after=IDS | st.none())
    def move(self, line_id, after):
        conflicts, refused = self.apply({"op": "move", "id": line_id, "after": after})
        assert not conflicts and not refused
        if line_id not in self.text:
            return
        self.order.remove(line_id)
        at = 0 if after is None else self.order.index(after) + 1 if after in self.order else len(self.order)
        self.order.insert(at, line_id)

    @rule(line_id=IDS, good=TEXTS)
    def one_bad_among_good(self, line_id, good):
        bad = {"op": "set", "id": line_id, "rev": self.rev(line_id), "fields": {"text": "x\x00"}}
        fine = {"op": "set", "id": line_id, "rev": self.rev(line_id), "fields": {"text": good}}
        conflicts, refused = self.apply(bad, fine)
        assert [r["index"] for r in refused] == [0]
        if line_id in self.text:
            assert not conflicts
            self.text[line_id] = good

    @rule(line_id=IDS, text=TEXTS)
    def the_same_edit_twice(self, line_id, text):
        op = {"op": "set", "id": line_id, "rev": self.rev(line_id), "fields": {"text": text}}
        self.apply(op)
        once = copy.deepcopy(self.source)
        conflicts, _ = self.apply(op)
        assert self.source == once and bool(conflicts) == (line_id not in self.text)
        if line_id in self.text:
            self.text[line_id] = text

    @rule()
    def catch_up(self):
        self.behind = copy.deepcopy(self.source)

    @invariant()
    def the_list_is_what_it_must_be(self):
        lines = self.source["lines"]
        assert [x["id"] for x in lines] == self.order and {x["id"]: x["text"] for x in lines} == self.text
        assert all(set(FIELDS) | {"id", "rev"} == set(x) for x in lines)
        numbers = [x["number"] for x in lines]
        assert len(numbers) == len(set(numbers)), "a fresh number is no one else's"


TestDesk = Desk.TestCase
TestDesk.settings = settings(max_examples=60, stateful_step_count=30, deadline=None)


@settings(deadline=None)
@given(st.lists(TEXTS, max_size=30), st.lists(TEXTS, max_size=30))
def test_lists_added_one_after_the_other_stand_so_and_share_no_name(first, second):
    made = add_lines(add_lines(new_source(), [{"text": t} for t in first], "a"), [{"text": t} for t in second], "b")
    assert [x["text"] for x in made["lines"]] == first + second
    assert len({x["id"] for x in made["lines"]}) == len(first) + len(second)
    assert [x["number"] for x in made["lines"]] == [str(k) for k in range(1, len(first) + len(second) + 1)]
