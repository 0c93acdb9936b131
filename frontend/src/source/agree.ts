import { Modal } from "ant-design-vue";
import { h } from "vue";
import type { Preview } from "./store";

const lines = (n: number) => (n === 1 ? "1 line" : `${n} lines`);

/** Shows what comes and what goes when a list is taken over, and asks whether it may. */
export function agree(seen: Preview): Promise<boolean> {
  const rows = [
    ["come", `${lines(seen.comes)}${seen.unread ? ` (${lines(seen.unread)} of the file not read)` : ""}`],
    ["go", lines(seen.goes)],
    ["stay", lines(seen.stays)],
  ];
  return new Promise((answer) =>
    Modal.confirm({
      title: `“${seen.name}” would replace the source of this job`,
      width: 460,
      icon: null,
      content: () =>
        h("div", { class: "agree" }, [
          h(
            "dl",
            rows.flatMap(([name, said]) => [h("dt", name), h("dd", said)]),
          ),
          seen.first.length
            ? h("p", { class: "quiet" }, seen.comes > seen.first.length ? "The first that come" : "What comes")
            : null,
          seen.first.length
            ? h(
                "ul",
                { class: "sheet", "aria-label": "The first lines that come" },
                seen.first.map((t) => h("li", `#${t}`)),
              )
            : null,
          h("p", { class: "quiet" }, "The list that stands here now is kept: “Take back” brings it here again."),
        ]),
      okText: "Replace the list",
      cancelText: "Keep what is here",
      autoFocusButton: "cancel",
      onOk: () => answer(true),
      onCancel: () => answer(false),
    }),
  );
}
