"""What the tests of the API and of the browser ask of a running application."""

import re


def job_by(client, number):
    return next(j["id"] for j in client.get("/api/jobs?size=500").json()["jobs"] if j["number"] == number)


def new_job(client, number, **more):
    answer = client.post("/api/jobs", json={"number": number, **more})
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def upload(client, job, data, name="part.step"):
    return client.post(f"/api/jobs/{job}/models", files={"file": (name, data)})


def edit(client, job, *ops):
    answer = client.post(f"/api/jobs/{job}/source/edits", json={"ops": list(ops)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def insert(line_id, text, after=None, **more):
    return {"op": "insert", "id": line_id, "after": after, "line": {"text": text, **more}}


def listed(page, number):
    """The link of a job in the list, looked for by its number, however many jobs there are."""
    page.get_by_label("Find a job").fill(number)
    return page.get_by_role("link", name=number, exact=True)


def choose(page, label, text):
    """Choose an option of a list by what it says; a part of it is enough."""
    chosen(page, label).locator(".ant-select-selector").click()
    page.locator(".ant-select-dropdown:visible .ant-select-item-option", has_text=text).first.click()


def typed(page, text, **more):
    """Words typed where the cursor is, once it stands in a field: focus may come a moment after what called for it."""
    page.locator("input:focus, textarea:focus, [contenteditable]:focus").first.wait_for(state="attached")
    page.keyboard.type(text, **more)


def chosen(page, label):
    """The list of a name with what is chosen in it."""
    return page.locator(".ant-select", has=page.get_by_role("combobox", name=label, exact=True))


def statement(page, text):
    """The statement of the sheet with a line of exactly this text; a space may part it from the note's next line."""
    line = page.locator("text", has_text=re.compile(rf"^{re.escape(text)}\s?$"))
    return page.locator("g.statement").filter(has=line).first
