"""Views by pointer and by keyboard: cut, enlarge, break open, list, undo; they survive a reload and a second person."""

from playwright.sync_api import expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import new_job, upload

PLATE = recipe(
    block(80, 50, 20),
    {"op": "hole", "at": [[20, 25, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True,
     "counterbore": {"diameter": 14, "depth": 5}},
    {"op": "hole", "at": [[62, 12, 20]], "axis": [0, 0, 1], "diameter": 10, "through": True},
)  # fmt: skip


def opened(page, application, number):
    with application.client() as client:
        job = new_job(client, number, title="Plate")
        upload(client, job, step_bytes(PLATE))
        application.wait(client, job)
        sheet = client.get(f"/api/jobs/{job}/sheet").json()
        client.post(f"/api/jobs/{job}/sheet/edits", json={
            "version": sheet["version"], "command": {"op": "set", "what": "scale", "value": "1:1"}, "token": "scale"})  # fmt: skip
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/sheet")
    expect(page.locator("svg.board")).to_be_visible()
    return job


def views(application, job):
    with application.client() as client:
        return [v for p in client.get(f"/api/jobs/{job}/sheet").json()["pages"] for v in p["views"]]


def grip(page, name):
    return page.get_by_role("button", name=f"{name} view", exact=True)


def test_a_view_is_cut_enlarged_and_broken_open_by_the_pointer(page, application):
    job = opened(page, application, "VIEW-1")
    # Of this plate the front view looks down on it.
    face = next(v for v in views(application, job) if v["kind"] in ("front", "top") and v["box"][3] - v["box"][1] > 45)
    shape = grip(page, face["name"])
    box = shape.bounding_box()

    def at(x, y):
        return box["x"] + box["width"] * x / 80, box["y"] + box["height"] * (1 - y / 50)

    page.mouse.click(*at(40, 45))
    page.keyboard.press("x")
    page.mouse.move(*at(-4, 25))
    page.mouse.down()
    page.mouse.move(*at(40, 25))
    page.mouse.move(*at(84, 25))
    page.mouse.up()
    expect(grip(page, "section A–A")).to_be_visible()
    # A circle from its middle outward.
    page.mouse.click(*at(40, 45))
    page.keyboard.press("e")
    page.mouse.move(*at(62, 12))
    page.mouse.down()
    page.mouse.move(*at(66, 12))
    page.mouse.move(*at(71, 12))
    page.mouse.up()
    expect(grip(page, "detail B")).to_be_visible()
    # Undone and redone, and still there after a reload.
    page.keyboard.press("Control+z")
    expect(grip(page, "detail B")).to_have_count(0)
    page.keyboard.press("Control+Shift+z")
    expect(grip(page, "detail B")).to_be_visible()
    page.reload()
    expect(grip(page, "section A–A")).to_be_visible()
    expect(grip(page, "detail B")).to_be_visible()
    # A drag moves it.
    before = next(v["box"] for v in views(application, job) if v["name"] == "detail B")
    stood = grip(page, "detail B").get_attribute("x")
    spot = grip(page, "detail B").bounding_box()
    page.mouse.move(spot["x"] + 6, spot["y"] + 6)
    page.mouse.down()
    page.mouse.move(spot["x"] + 30, spot["y"] + 20)
    page.mouse.up()
    expect(grip(page, "detail B")).not_to_have_attribute("x", stood)
    after = next(v["box"] for v in views(application, job) if v["name"] == "detail B")
    assert after[0] > before[0] and after[1] > before[1]
    # It is selected: a key takes it off. Then the view is broken open by the points of an outline.
    page.keyboard.press("Delete")
    expect(grip(page, "detail B")).to_have_count(0)
    side = next(
        v for v in views(application, job) if v["kind"] in ("left", "right", "top", "front") and v["id"] != face["id"]
    )
    box = grip(page, side["name"]).bounding_box()
    # The keys go from view to view; a press on the paper could meet a dimension's line first.
    for _ in views(application, job):
        page.keyboard.press("v")
        page.wait_for_timeout(200)
        if grip(page, side["name"]).get_attribute("aria-pressed") == "true":
            break
    page.keyboard.press("b")
    for x, y in ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)):
        page.mouse.click(box["x"] + box["width"] * x, box["y"] + box["height"] * y)
    page.keyboard.press("Enter")
    page.keyboard.press("l")
    expect(page.locator(".views .ant-drawer-content li").filter(has_text="cut open")).to_have_count(1)


def test_views_are_listed_made_and_taken_off_by_keyboard_alone(page, application):
    job = opened(page, application, "VIEW-2")
    page.locator("svg.board").focus()
    page.keyboard.press("l")
    panel = page.locator(".views .ant-drawer-content")
    expect(panel).to_be_visible()
    section = panel.get_by_role("button", name="Section …")
    section.focus()
    page.keyboard.press("Enter")
    level = panel.get_by_label("Level of the cut, mm")
    level.focus()
    page.keyboard.press("Control+a")
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    expect(panel.get_by_role("button", name="section A–A", exact=True)).to_be_visible()
    # A level beside the part: one sentence, nothing made.
    section.focus()
    page.keyboard.press("Enter")
    level.focus()
    page.keyboard.press("Control+a")
    page.keyboard.type("900")
    page.keyboard.press("Enter")
    expect(page.locator(".notice")).to_contain_text("misses the part")
    assert [v["name"] for v in views(application, job)].count("section A–A") == 1
    # Its caption is typed, and it is taken off.
    panel.get_by_role("button", name="section A–A", exact=True).focus()
    page.keyboard.press("Enter")
    caption = panel.get_by_label("Caption of the view")
    caption.focus()
    page.keyboard.type("through the seat")
    page.keyboard.press("Enter")
    expect(page.locator("svg.board text", has_text="through the seat").first).to_be_visible()
    off = panel.get_by_role("button", name="Take section A–A off")
    off.focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Take it off").focus()
    page.keyboard.press("Enter")
    expect(panel.get_by_role("button", name="section A–A", exact=True)).to_have_count(0)
    assert "section A–A" not in [v["name"] for v in views(application, job)]


def test_two_people_make_views_on_one_sheet(page, application):
    job = opened(page, application, "VIEW-3")
    face = next(v for v in views(application, job) if v["kind"] in ("front", "top"))
    with application.client() as other:
        version = other.get(f"/api/jobs/{job}/sheet").json()["version"]
        command = {"op": "add-section", "view": face["id"], "across": "x", "level": 20}
        first = other.post(
            f"/api/jobs/{job}/sheet/edits", json={"version": version, "command": command, "token": "one"}
        )
        assert first.status_code == 200
        # Made on the same version: both views stand, each with a letter of its own.
        command = {"op": "add-detail", "view": face["id"], "levels": [20, 25], "radius": 9}
        second = other.post(
            f"/api/jobs/{job}/sheet/edits", json={"version": version, "command": command, "token": "two"}
        )
        assert second.status_code == 200
    expect(grip(page, "section A–A")).to_be_visible()
    expect(grip(page, "detail B")).to_be_visible()
