import { Modal } from "ant-design-vue";
import { h } from "vue";
import type { Preview } from "./store";

const lines = (n: number) => (n === 1 ? "1 line" : `${n} lines`);

/** Shows what comes and what goes when a list is taken over, and asks whether it may. */
export function agree(seen: Preview): Promise<boolean> {
  const rows = [
    ["Come", `${lines(seen.comes)}${seen.unread ? ` (${lines(seen.unread)} of the file not read)` : ""}`],
    ["Go", lines(seen.goes)],
    ["Stay as they are", lines(seen.stays)],
  ];
  return new Promise((answer) =>
    Modal.confirm({
      title: `“${seen.name}” would replace the source of this job`,
      width: 460,
      content: () =>
        h("div", { class: "agree" }, [
          h(
            "dl",
            rows.flatMap(([name, said]) => [h("dt", name), h("dd", said)]),
          ),
          seen.first.length
            ? h("ol", { "aria-label": "The first lines that come" }, [...seen.first.map((t) => h("li", t))])
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
