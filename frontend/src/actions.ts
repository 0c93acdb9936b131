/** What can be done at a station: the one table from which its keys, its menus, the palette and the list of keys are made. */
export interface Entry {
  id: string;
  /** Its key, as people read it; several that mean it are parted by " or ". */
  press?: string;
  /** What the list of keys says of it. */
  help?: string;
  /** What the palette calls it; what has no name there is done on the paper alone. */
  name?: string;
  /** Whether it changes the sheet. */
  edits?: boolean;
}

/** What is done on the sheet. */
export const SHEET: readonly Entry[] = [
  { id: "next", press: ".", help: "the next statement, or what can be picked next" },
  { id: "last", press: ",", help: "the one before" },
  { id: "view", press: "V", help: "next view" },
  { id: "nudge", press: "arrows", help: "nudge the statement or the view", edits: true },
  {
    id: "measure",
    press: "M",
    help: "measure between two; Enter takes a pick",
    name: "Add a dimension between two on the sheet",
    edits: true,
  },
  {
    id: "note",
    press: "N",
    help: "a note, a symbol or a datum at a line",
    name: "Add a note at a line of the sheet",
    edits: true,
  },
  {
    id: "words",
    press: "F2",
    help: "other words for the statement",
    name: "Change what the selected statement says",
    edits: true,
  },
  { id: "zoom", press: "Z", help: "zoom to what is selected", name: "Zoom to what is selected" },
  { id: "fit", press: "0", help: "fit the sheet", name: "Fit the sheet" },
  { id: "closer", press: "+", help: "closer; the wheel at the pointer" },
  { id: "farther", press: "-", help: "farther" },
  { id: "pan", press: "Space drag", help: "pan, or the middle button" },
  {
    id: "delete",
    press: "Delete",
    help: "takes the statement or the view off",
    name: "Delete the selected statement",
    edits: true,
  },
  { id: "cut", press: "X", help: "cut the selected view", edits: true },
  { id: "enlarge", press: "E", help: "enlarge a place of the selected view", edits: true },
  { id: "open", press: "B", help: "break the selected view open", edits: true },
  { id: "part", press: "W", help: "show the selected view in part", edits: true },
  { id: "fold", press: "A", help: "fold a view at an edge", edits: true },
  { id: "views", press: "L", help: "the list of views", name: "List the views", edits: true },
  { id: "page", press: "P", help: "how the page is set up", name: "Set up the page", edits: true },
  { id: "tidy", press: "T", help: "tidy rows and notes", name: "Tidy rows and notes", edits: true },
  { id: "undo", press: "Ctrl Z", help: "undo", name: "Undo", edits: true },
  { id: "redo", press: "Ctrl Shift Z", help: "redo", name: "Redo", edits: true },
];
/** The panels of the solid. */
export const SOLID = [
  { id: "features", press: "F", leaf: "Features", name: "Features of the solid" },
  { id: "measure", press: "M", leaf: "Measure", name: "Measure on the solid" },
  { id: "weigh", press: "W", leaf: "Weigh", name: "Weigh the solid" },
  { id: "steps", press: "S", leaf: "Steps", name: "Steps of the part and their masses" },
  { id: "faults", press: "A", leaf: "Faults", name: "Faults of the solid and making advice" },
  { id: "changes", press: "H", leaf: "Changes", name: "What changed since the model before" },
] as const;
/** The stations, in the order of the work. */
export const STATIONS = [
  { id: "source", name: "Source" },
  { id: "solid", name: "Solid" },
  { id: "sheet", name: "Sheet" },
  { id: "proof", name: "Proof" },
  { id: "release", name: "Release" },
] as const;

/** The keys of each station beside those that hold everywhere. */
export const KEYS: Record<string, readonly Entry[]> = {
  sheet: SHEET,
  solid: [
    ...SOLID.map((s) => ({ id: s.id, press: s.press, help: s.name.toLowerCase() })),
    { id: "walk", press: ". ,", help: "on the part: next and last face, edge or corner; Enter picks it" },
    { id: "turn", press: "arrows", help: "on the part: turn it" },
    { id: "copy", press: "C", help: "copy what was measured" },
    { id: "cut", press: "X", help: "cut the part open" },
    { id: "fit", press: "0 + −", help: "fit, closer, farther" },
  ],
  proof: [
    { id: "through", press: "R", help: "read the source through, line by line" },
    { id: "yes", press: "Y", help: "reading through: yes, so it is" },
    { id: "other", press: "O", help: "another place that the line could mean" },
    { id: "ask", press: "Q", help: "ask: leave a remark" },
    { id: "untick", press: "U", help: "take the tick back" },
    { id: "walk", press: "↑ ↓", help: "the line before, the next line" },
  ],
  source: [
    { id: "below", press: "Enter", help: "a line below" },
    { id: "split", press: "Alt Enter", help: "splits the line" },
    { id: "move", press: "Alt ↑ ↓", help: "moves the line" },
    { id: "double", press: "Ctrl D", help: "doubles the line" },
    { id: "remove", press: "Ctrl Delete", help: "removes it" },
    { id: "flag", press: "F2", help: "to the print, to set its flag" },
    { id: "flags", press: ". , F", help: "on the print: next and last flag, move it" },
    { id: "leaves", press: "Alt 1 – 6", help: "lines, chains, workings, mass, house rules, findings" },
  ],
};
/** The keys that hold at every station. */
export const EVERYWHERE: readonly Entry[] = [
  { id: "stations", press: "1 – 5", help: "stations" },
  { id: "palette", press: "Ctrl K", help: "every action by name" },
  { id: "keys", press: "?", help: "this list" },
  { id: "back", press: "Esc", help: "back out one level" },
];

const ARROWS = ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"];

/** Whether a key that was pressed is the one that an entry names. */
export function isPress(
  press: string | undefined,
  event: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey" | "shiftKey">,
) {
  if (!press) return false;
  if (press === "arrows") return ARROWS.includes(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey;
  const words = press.split(" ");
  const key = words[words.length - 1].toLowerCase();
  const ctrl = event.ctrlKey || event.metaKey;
  if (event.key.toLowerCase() !== key || ctrl !== words.includes("Ctrl") || event.altKey !== words.includes("Alt"))
    return false;
  // Signs stand behind Shift on some keyboards; letters with it mean something else only with Ctrl.
  return !words.includes("Ctrl") || event.shiftKey === words.includes("Shift");
}
