"""Views by pointer and by keyboard: cut, enlarge, break open, list, undo; they survive a reload and a second person."""

from playwright.sync_api import expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import new_job, typed, upload

PLATE = recipe(
    block(80, 50, 20),
    {
        "op": "hole",
        "at": [[20, 25, 20]],
        "axis": [0, 0, 1],
        "diameter": 8,
        "through": True,
        "counterbore": {"diameter": 14, "depth": 5},
    },
    {"op": "hole", "at": [[62, 12, 20]], "axis": [0, 0, 1], "diameter": 10, "through": True},
)


def opened(page, application, number, part=PLATE, signed_in=False):
    with application.client() as client:
        job = new_job(client, number, title="Plate")
        upload(client, job, step_bytes(part))
        application.wait(client, job)
        sheet = client.get(f"/api/jobs/{job}/sheet").json()
        client.post(
            f"/api/jobs/{job}/sheet/edits",
            json={
                "version": sheet["version"],
                "command": {"op": "set", "what": "scale", "value": "1:1"},
                "token": "scale",
            },
        )
    if not signed_in:
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
    typed(page, "20")
    page.keyboard.press("Enter")
    expect(panel.get_by_role("button", name="section A–A", exact=True)).to_be_visible()
    # A level beside the part: one sentence, nothing made.
    section.focus()
    page.keyboard.press("Enter")
    level.focus()
    page.keyboard.press("Control+a")
    typed(page, "900")
    page.keyboard.press("Enter")
    expect(page.locator(".notice")).to_contain_text("misses the part")
    assert [v["name"] for v in views(application, job)].count("section A–A") == 1
    # Its caption is typed, and it is taken off.
    panel.get_by_role("button", name="section A–A", exact=True).focus()
    page.keyboard.press("Enter")
    caption = panel.get_by_label("Caption of the view")
    caption.focus()
    typed(page, "through the seat")
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


SLOPED = recipe(
    block(120, 30, 20),
    {
        "op": "extrude",
        "profile": {"plane": "XZ", "outer": {"polygon": [[120, 20], [120, 8], [85, 20]]}},
        "distance": -30,
        "mode": "cut",
    },
    {"op": "hole", "at": [[102.5, 15, 14]], "axis": [12, 0, 35], "diameter": 8, "depth": 8},
    {"op": "hole", "at": [[10, 15, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True},
)


def select(page, name):
    """Go from view to view by the key until one is selected."""
    for _ in range(12):
        if grip(page, name).get_attribute("aria-pressed") == "true":
            return
        page.keyboard.press("v")
        page.wait_for_timeout(150)
    raise AssertionError(f"{name} cannot be reached")


def test_an_auxiliary_view_a_partial_one_and_a_shaded_pictorial_by_keys_and_pointer(page, application):
    job = opened(page, application, "VIEW-4", SLOPED)
    before = [v["name"] for v in views(application, job)]
    front = next(v for v in views(application, job) if v["kind"] == "front")
    page.locator("svg.board").focus()
    for old in [v["name"] for v in views(application, job) if v["kind"] == "auxiliary"]:
        # The draft has folded one already: it goes, and comes back by undo.
        select(page, old)
        page.keyboard.press("Delete")
        expect(grip(page, old)).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(grip(page, old)).to_be_visible()
    # Folded at the sloped edge: the keys walk the edges, Enter takes one.
    select(page, "front")
    page.keyboard.press("a")
    said = page.locator(".spoken")
    for _ in range(80):
        page.keyboard.press(".")
        page.wait_for_timeout(30)
        if "sloped edge" in said.inner_text() and "front" in said.inner_text():
            break
    page.keyboard.press("Enter")
    expect(page.locator("svg.board .grip[aria-label^='auxiliary']")).to_have_count(
        1 + sum("auxiliary" in n for n in before)
    )
    page.keyboard.press("Control+z")
    # Shown in part: a box by the pointer, whole again from the list.
    select(page, "front")
    box = grip(page, "front").bounding_box()
    page.keyboard.press("w")
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] - 4)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + box["height"] * 0.5)
    page.mouse.move(box["x"] + box["width"] + 4, box["y"] + box["height"] + 4)
    page.mouse.up()
    expect(grip(page, "front")).not_to_have_attribute("width", str(front["box"][2] - front["box"][0] + 4))
    page.keyboard.press("l")
    panel = page.locator(".views .ant-drawer-content")
    expect(panel.locator("li").filter(has_text="in part").first).to_be_visible()
    panel.get_by_role("button", name="Show it whole").focus()
    page.keyboard.press("Enter")
    expect(panel.locator("li.on").filter(has_text="in part")).to_have_count(0)
    # The pictorial is shaded by its box, and stays so after a reload.
    panel.get_by_role("button", name="pictorial", exact=True).focus()
    page.keyboard.press("Enter")
    panel.get_by_role("checkbox", name="shaded").focus()
    page.keyboard.press("Space")
    expect(page.locator("svg.board image")).to_have_count(1)
    page.reload()
    expect(page.locator("svg.board image")).to_have_count(1)


LONG = recipe(
    {"op": "extrude", "distance": 400, "profile": {"plane": "XY", "outer": {"circle": [0, 0, 20]}}},
    {"op": "hole", "at": [[0, -10, 390]], "axis": [0, -1, 0], "diameter": 5, "through": True},
)
RING = recipe(
    {
        "op": "extrude",
        "distance": 10,
        "profile": {"plane": "XY", "outer": {"rect": [-40, -40, 80, 80]}, "holes": [{"circle": [0, 0, 20]}]},
    },
    {
        "op": "hole",
        "at": [[27, 0, 10], [-13.5, 23.383, 10], [-13.5, -23.383, 10]],
        "axis": [0, 0, 1],
        "diameter": 8,
        "through": True,
    },
)


def test_a_long_view_is_shortened_and_a_section_turns_on_an_axis(page, application):
    job = opened(page, application, "VIEW-5", LONG)
    page.locator("svg.board").focus()
    page.keyboard.press("l")
    panel = page.locator(".views .ant-drawer-content")
    # The draft has broken the part; it is shown in full, then broken by two typed figures.
    panel.get_by_role("button", name="front", exact=True).focus()
    page.keyboard.press("Enter")
    expect(panel.locator("li.on")).to_contain_text("shortened")
    panel.get_by_role("button", name="Show in full").focus()
    page.keyboard.press("Enter")
    expect(panel.locator("li.on").get_by_text("shortened")).to_have_count(0)
    stretch = panel.get_by_label("Stretch to take out, from and to in mm from the datum")
    stretch.focus()
    typed(page, "100, 300")
    page.keyboard.press("Enter")
    expect(panel.locator("li.on")).to_contain_text("shortened")
    front = next(v for v in views(application, job) if v["kind"] == "front")
    assert front["box"][2] - front["box"][0] < 250 * front["scale"]
    # Nonsense is told in a sentence.
    stretch.focus()
    page.keyboard.press("Control+a")
    typed(page, "far")
    page.keyboard.press("Enter")
    expect(page.locator(".notice")).to_contain_text("two figures")

    job = opened(page, application, "VIEW-6", RING, signed_in=True)
    face = next(v for v in views(application, job) if v["kind"] in ("front", "top") and v["box"][3] - v["box"][1] > 60)
    box = grip(page, face["name"]).bounding_box()
    cx, cy, r = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, box["width"] / 2
    page.locator("svg.board").focus()
    select(page, face["name"])
    page.keyboard.press("x")
    for x, y in ((cx + r + 6, cy), (cx, cy), (cx - r * 0.6, cy - r * 1.04)):
        page.mouse.click(x, y)
        page.wait_for_timeout(150)
    page.keyboard.press("Enter")
    expect(grip(page, "section A–A")).to_be_visible()
    with application.client() as client:
        document = client.get(f"/api/jobs/{job}/export/json").json()["document"]
    assert [v["form"] for v in document["views"] if v["kind"] == "section"] == ["aligned"]


def test_a_revision_an_own_size_and_the_print_preview(page, application):
    job = opened(page, application, "VIEW-7")
    page.keyboard.press("p")
    panel = page.locator(".setup .ant-drawer-content")
    panel.get_by_label("Revision", exact=True).fill("C")
    panel.get_by_label("What changed").fill("Seat deeper by 1")
    panel.get_by_label("What changed").press("Enter")
    expect(page.locator("svg.board text", has_text="Seat deeper by 1").first).to_be_visible()
    panel.get_by_label("Own sheet size, width × height in mm").fill("50 x 50")
    panel.get_by_label("Own sheet size, width × height in mm").press("Enter")
    expect(page.locator(".notice")).to_contain_text("out of reach")
    panel.get_by_label("Own sheet size, width × height in mm").fill("640 x 400")
    panel.get_by_label("Own sheet size, width × height in mm").press("Enter")
    expect(page.locator("svg.board .paper")).to_have_attribute("width", "640")
    page.goto(f"{application.address}/jobs/{job}/release")
    page.get_by_role("button", name="Print preview").click()
    picture = page.get_by_alt_text("Sheet 1 as it is printed")
    expect(picture).to_be_visible()
    page.wait_for_function("() => document.querySelector('figure img')?.naturalWidth > 0")
    with application.client() as client:
        got = client.get(f"/api/jobs/{job}/export/svg")
    assert 'filename="VIEW-7-C-sheet1.svg"' in got.headers["content-disposition"]
    assert 'width="640mm"' in got.text


def test_a_section_follows_a_revised_model(page, application):
    job = opened(page, application, "VIEW-8")
    face = next(v for v in views(application, job) if v["kind"] in ("front", "top") and v["box"][3] - v["box"][1] > 45)
    with application.client() as client:
        version = client.get(f"/api/jobs/{job}/sheet").json()["version"]
        command = {"op": "add-section", "view": face["id"], "across": "y", "level": 25}
        assert (
            client.post(
                f"/api/jobs/{job}/sheet/edits", json={"version": version, "command": command, "token": "s"}
            ).status_code
            == 200
        )
    expect(grip(page, "section A–A")).to_be_visible()
    moved = recipe(
        block(80, 50, 20),
        {
            "op": "hole",
            "at": [[20, 28, 20]],
            "axis": [0, 0, 1],
            "diameter": 8,
            "through": True,
            "counterbore": {"diameter": 14, "depth": 5},
        },
        {"op": "hole", "at": [[62, 12, 20]], "axis": [0, 0, 1], "diameter": 10, "through": True},
    )
    with application.client() as client:
        assert upload(client, job, step_bytes(moved)).status_code == 202
        application.wait(client, job)
    page.reload()
    expect(grip(page, "section A–A")).to_be_visible()
    assert next(v for v in views(application, job) if v["name"] == "section A–A")["lost"] == 0
