/**
 * What the library's lists and tables leave out for screen readers: a closed list says neither that it is closed nor
 * anything true of what it owns, and the arrows of a sortable column are named although they are only shown.
 */
const OWNED = ["aria-owns", "aria-controls", "aria-activedescendant"] as const;

function mendList(field: Element) {
  if (!field.hasAttribute("aria-label") && field.closest(".ant-pagination"))
    field.setAttribute("aria-label", "Rows a page");
  if (!field.hasAttribute("aria-expanded")) field.setAttribute("aria-expanded", "false");
  for (const name of OWNED) {
    const id = field.getAttribute(name);
    if (id !== null && (!id || !document.getElementById(id))) field.removeAttribute(name);
  }
}
function mendIcon(icon: Element) {
  icon.removeAttribute("aria-label");
  icon.setAttribute("aria-hidden", "true");
}
const LIST = "input[role=combobox]";
const ICON = ".anticon[role=presentation][aria-label]";
function mendIn(root: ParentNode) {
  root.querySelectorAll(LIST).forEach(mendList);
  root.querySelectorAll(ICON).forEach(mendIcon);
}

/** Mends what is there, and whatever comes. */
export function keepMended(root: HTMLElement) {
  mendIn(root);
  new MutationObserver((changes) => {
    for (const change of changes) {
      if (change.type === "attributes" && (change.target as Element).matches(LIST)) mendList(change.target as Element);
      for (const node of change.addedNodes) {
        if (!(node instanceof HTMLElement)) continue;
        if (node.matches(LIST)) mendList(node);
        else if (node.matches(ICON)) mendIcon(node);
        else mendIn(node);
      }
    }
  }).observe(root, { subtree: true, childList: true, attributeFilter: ["aria-expanded", ...OWNED] });
}
