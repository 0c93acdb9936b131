<script setup lang="ts">
import { Button, Dropdown, Input, Menu, MenuItem, Skeleton } from "ant-design-vue";
import { onKeyStroke } from "@vueuse/core";
import { computed, nextTick, reactive, ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";
import { isPress, SHEET } from "../actions";
import { api, take } from "../api/client";
import Board from "../board/Board.vue";
import { STATES, type Drawing, type Pick } from "../board/types";
import Blank from "../parts/Blank.vue";
import Choose from "../parts/Choose.vue";
import Press from "../parts/Press.vue";
import { useJob, type Command } from "../state";
import PageSetUp from "./sheet/PageSetUp.vue";
import ViewList from "./sheet/ViewList.vue";
import { useVerbs } from "./sheet/verbs";

const emit = defineEmits<{ bring: [] }>();
const store = useJob();
const router = useRouter();
const board = ref<InstanceType<typeof Board>>();
/** Whether two things are picked to measure between, or an edge to fold an auxiliary view at. */
const picking = ref(false);
const folding = ref(false);
const setting = ref(false);
const listing = ref(false);
const drawing = ref<Drawing>("");
const moving = ref(false);
/** Whether a line is picked for a note, and the one that was; or the statement whose words are typed anew. */
const noting = ref(false);
const noted = shallowRef<Pick | null>(null);
const wording = ref(false);
const typed = ref("");
const field = ref<{ focus: () => void }>();
/** Whether the right click's menu is open. */
const menu = ref(false);
const first = shallowRef<Pick | null>(null);
const number = ref(1);
const page = computed(() => store.sheet?.pages.find((p) => p.number === number.value) ?? store.sheet?.pages[0]);
const owner = computed(() => (store.chosen.length === 1 ? store.chosen[0] : null));
const view = computed(() => (store.selected?.startsWith("v:") ? store.selected.slice(2) : null));
const rows = computed(() => new Map((store.proof?.ledger ?? []).map((r) => [r.key, r])));
const row = computed(() => rows.value.get(`s:${owner.value}`));
const viewName = (id: string) => page.value?.views.find((v) => v.id === id)?.name ?? id;

/** What a statement or a view is called when it is read out. */
function spoken(id: string): string {
  if (page.value?.views.some((v) => v.id === id)) return `${viewName(id)} view`;
  const r = rows.value.get(`s:${id}`);
  if (r) return `${r.text}, ${STATES[r.state]?.word ?? r.state}${r.view ? `, ${viewName(r.view)} view` : ""}`;
  const text = page.value?.texts.filter((t) => t.o === id).map((t) => t.t);
  return text?.length ? text.join(" ") : `line ${id}`;
}
function choose(o: string | null) {
  store.selected = o ? `s:${o}` : null;
}
function pick(p: Pick) {
  if (folding.value) {
    startFolding();
    void store.edit({ op: "add-auxiliary", view: p.view, ref: p.ref });
    return;
  }
  if (noting.value) {
    startNoting();
    noted.value = p;
    // A line of the source that is selected is what is to stand there.
    const said = rows.value.get(store.selected ?? "");
    ask(said?.kind === "characteristic" ? said.text : "");
    return;
  }
  if (!first.value) {
    first.value = p;
    store.say(`First ${p.kind} picked; now the second.`);
    return;
  }
  const from = first.value;
  first.value = null;
  picking.value = false;
  store.say("");
  if (from.view !== p.view) {
    store.say("Both must be picked in the same view.");
    return;
  }
  void store.edit({ op: "add-linear", view: p.view, refs: [from.ref, p.ref] });
}
function startPicking() {
  picking.value = !picking.value;
  first.value = null;
  store.say(
    picking.value
      ? "Pick two edges, points or centres in one view: by the pointer, or by full stop and comma with Enter. Esc leaves."
      : "",
  );
}
function startFolding() {
  folding.value = !folding.value;
  store.say(
    folding.value
      ? "Pick the edge in which a sloped face is seen: by the pointer, or by full stop and comma with Enter. Esc leaves."
      : "",
  );
}
function startNoting() {
  noting.value = !noting.value;
  noted.value = null;
  wording.value = false;
  store.say(
    noting.value
      ? "Pick the line or the centre that the note is of: by the pointer, or by full stop and comma with Enter. Esc leaves."
      : "",
  );
}
/** Opens the field for words, with those that stand there. */
function ask(text: string) {
  typed.value = text;
  void nextTick(() => field.value?.focus());
}
function reword() {
  if (!owner.value) return;
  noted.value = null;
  wording.value = !wording.value;
  if (wording.value) ask(row.value?.text ?? "");
}
function leaveWords() {
  noted.value = null;
  wording.value = false;
}
async function write() {
  const text = typed.value.trim();
  const at = noted.value;
  if (!text) return store.say("Type what the note says.");
  const id = owner.value;
  const taken = at
    ? await store.edit({ op: "add-note", view: at.view, refs: [at.ref], text })
    : id && (await store.edit({ op: "set-text", id, text }));
  // What was refused stays to be mended; so does what somebody has typed since.
  if (taken && typed.value.trim() === text) leaveWords();
}
const HOW: Record<Exclude<Drawing, "">, string> = {
  cut: "Drag a cutting line across the view, or press its points and Enter: it snaps to centres, steps, and turns on an axis. Esc leaves.",
  enlarge: "Drag a circle from its middle outward. Esc leaves.",
  part: "Drag a box: the view is shown only inside it. Esc leaves.",
  open: "Press the points of an outline on the view, then Enter: it is cut down to the nearest axis. Esc leaves.",
};
function draw(what: Exclude<Drawing, "">) {
  drawing.value = drawing.value === what ? "" : what;
  store.say(drawing.value ? HOW[what] : "");
}
function drawn(points: [number, number][]) {
  const id = view.value;
  const what = drawing.value;
  drawing.value = "";
  store.say("");
  if (!id) return;
  if (what === "cut")
    void store.edit({
      op: "add-section",
      view: id,
      points,
      level: 0,
      turned: false,
    });
  else if (what === "open") void store.edit({ op: "open-view", view: id, points });
  else if (what === "part") {
    const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
    const window = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    void store.edit({ op: "set-view", id, window });
  } else if (what === "enlarge") {
    const radius = Math.hypot(points[1][0] - points[0][0], points[1][1] - points[0][1]);
    void store.edit({ op: "add-detail", view: id, at: points[0], radius, form: "circle", scale: "auto" });
  }
}
function remove() {
  if (!owner.value && view.value) {
    void store.edit({ op: "remove-view", id: view.value });
    store.selected = null;
    return;
  }
  if (owner.value) void store.edit({ op: "remove", id: owner.value });
  store.selected = null;
}
/** A drag that the server refused does not stay on the screen. */
async function moved(owner: string, command: Command) {
  await store.edit(command);
  board.value?.release(owner);
}
function nudge(dx: number, dy: number) {
  if (owner.value) void store.edit({ op: "move", id: owner.value, dx, dy });
  else if (view.value) void store.edit({ op: "move-view", id: view.value, dx, dy });
}
const by = reactive({ right: "0", up: "7" });
/** Move by typed amounts: mm on the paper, or any expression of the workings pad. */
async function typedMove() {
  const amounts = await store.guard(() => Promise.all([by.right, by.up].map((text) => workOut(text))));
  if (!amounts) return;
  nudge(amounts[0], amounts[1]);
  moving.value = false;
}
async function workOut(text: string): Promise<number> {
  const params = { path: { job_id: store.id } };
  const made = await take(api.POST("/api/jobs/{job_id}/work-out", { params, body: { text } }));
  if (made.fault || made.value == null) throw new Error(`“${text}”: ${made.fault ?? "no number"}.`);
  return made.value;
}
function zoom() {
  const at = view.value ?? store.chosen[0];
  if (at) board.value?.zoomTo(at);
}
const { chosen: verbs, always } = useVerbs({
  page,
  owner,
  view,
  row,
  picking,
  folding,
  fold: startFolding,
  moving,
  setting,
  listing,
  drawing,
  draw,
  noting,
  note: startNoting,
  wording,
  reword,
  measure: startPicking,
  remove,
  zoom,
  fit: () => board.value?.fit(),
  toSolid: () => void router.push(`/jobs/${store.id}/solid`),
  toPrint: (line) => {
    store.selected = `c:${line}`;
    void router.push(`/jobs/${store.id}/source`);
  },
});
/** Those that are needed seldom wait behind one button. */
const rare = computed(() => verbs.value.filter((v) => v.rare));
const everything = computed(() => [...verbs.value, ...always.value]);
/** The right click selects what is under it; then the menu offers what fits. */
function under(event: MouseEvent) {
  const id = (event.target as Element).closest("[data-owner]")?.getAttribute("data-owner");
  if (!id || !page.value) return;
  if (page.value.views.some((v) => v.id === id)) store.selected = `v:${id}`;
  else if (id !== "frame" && id !== "title") choose(id);
}
function keys(event: KeyboardEvent) {
  if (menu.value && event.key === "Escape") {
    menu.value = false;
    return event.preventDefault();
  }
  const target = event.target as Element;
  if (target.closest?.("input,textarea,select,[role=dialog],[role=menu],[role=combobox],[role=separator]")) return;
  const inLedger = !!target.closest?.("[role=listbox]");
  const choosing = picking.value || folding.value || noting.value;
  if (event.key === "Enter" && (drawing.value || (choosing && board.value?.atPick))) onBoard("enter");
  else if (event.key === "Escape") onBoard("escape");
  else {
    const known = SHEET.find((e) => isPress(e.press, event));
    if (!known || (known.edits && !store.mayEdit) || (known.id === "nudge" && inLedger)) return;
    if (!act(known.id, event)) return;
  }
  event.preventDefault();
}
/** What Enter and Esc mean on the paper. */
function onBoard(what: "enter" | "escape") {
  if (what === "enter") {
    if (drawing.value) board.value?.finish();
    else board.value?.take();
  } else if (drawing.value) draw(drawing.value);
  else if (folding.value) startFolding();
  else if (noting.value) startNoting();
  else if (picking.value) startPicking();
  else store.selected = null;
}
/** Does an action of the table; false where it fits nothing that is selected. */
function act(id: string, event?: KeyboardEvent): boolean {
  if (id === "next" || id === "last") board.value?.walk(id === "next" ? 1 : -1);
  else if (id === "view") board.value?.walkViews(event?.shiftKey ? -1 : 1);
  else if (id === "closer" || id === "farther") board.value?.zoom(id === "closer" ? 1.25 : 0.8);
  else if (id === "nudge") {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event?.key ?? ""];
    if (!step || !(owner.value || view.value)) return false;
    nudge(step[0] * 3.5, step[1] * 7);
  } else {
    const fits = everything.value.find((v) => (v.id === id || (id === "delete" && v.id === "off")) && !v.off);
    fits?.run();
    return !!fits;
  }
  return true;
}
onKeyStroke(true, keys, { dedupe: false });
// What the palette asked for, from whichever station.
watch(
  [() => store.wanted, board],
  ([id]) => {
    if (!id || !board.value) return;
    store.wanted = null;
    act(id);
  },
  { immediate: true, flush: "post" },
);
watch(
  () => store.selected,
  () => (wording.value = false),
);
// One panel at a time.
watch(setting, (now) => now && (listing.value = false));
watch(listing, (now) => now && (setting.value = false));
// A ledger line pressed twice is shown large.
watch(
  () => store.zoomed,
  (key) => {
    if (key) zoom();
    store.zoomed = null;
  },
);
</script>

<template>
  <div class="sheet">
    <div v-if="store.sheet && page" class="stage">
      <Dropdown v-model:open="menu" :trigger="['contextmenu']">
        <div class="paperwrap" @contextmenu="under">
          <Board
            ref="board"
            :page="page"
            :chosen="store.chosen"
            :chosen-view="view"
            :picking="picking || folding || noting"
            :drawing="drawing"
            :may-edit="store.mayEdit"
            :spoken="spoken"
            @choose="choose"
            @choose-view="(v) => (store.selected = `v:${v}`)"
            @pick="pick"
            @drawn="drawn"
            @move="(o, dx, dy) => moved(o, { op: 'move', id: o, dx, dy })"
            @move-view="(v, dx, dy) => moved(v, { op: 'move-view', id: v, dx, dy })"
          />
        </div>
        <template #overlay>
          <Menu>
            <MenuItem v-for="v in everything" :key="v.id" :disabled="v.off" @click="v.run()"
              >{{ v.name }} <kbd v-if="v.press">{{ v.press }}</kbd></MenuItem
            >
          </Menu>
        </template>
      </Dropdown>
      <PageSetUp v-model:open="setting" :page="page" />
      <ViewList
        v-model:open="listing"
        :page="page"
        :pages="store.sheet.pages"
        :chosen="view"
        @choose="(v) => (store.selected = `v:${v}`)"
      />
    </div>
    <div v-else-if="store.loading || store.running" class="empty">
      <Skeleton
        active
        :title="false"
        :paragraph="{ rows: 8, width: ['60%', '90%', '90%', '40%', '90%', '70%', '90%', '30%'] }"
      />
      <p class="quiet">
        {{ store.running ? `${store.running.stage} …` : "Opening the sheet …" }}
      </p>
    </div>
    <div v-else class="empty">
      <Blank>
        <h2>No sheet yet</h2>
        <p>
          Drop a STEP file anywhere on this page: the part is read, drafted and proved at once, unasked. A print or a
          list of what the part was made from can be dropped or pasted as well, now or later.
        </p>
        <p v-if="store.mayEdit">
          <Button type="primary" @click="emit('bring')">Bring in a model</Button>
          <Button @click="router.push(`/jobs/${store.id}/source`)">Type the source first</Button>
        </p>
        <p v-else class="quiet">Somebody who drafts brings in the model.</p>
      </Blank>
    </div>
    <div v-if="store.sheet && page" class="dock" role="toolbar" aria-label="Verbs">
      <div class="row">
        <Press
          v-for="v in verbs.filter((x) => !x.rare)"
          :key="v.id"
          class="verb"
          :press="v.press"
          :on="v.on"
          :disabled="v.off"
          @press="v.run()"
          >{{ v.name }}</Press
        >
        <Dropdown v-if="rare.length" :trigger="['click']">
          <Button class="verb">More …</Button>
          <template #overlay>
            <Menu>
              <MenuItem v-for="v in rare" :key="v.id" @click="v.run()"
                >{{ v.name }} <kbd v-if="v.press">{{ v.press }}</kbd></MenuItem
              >
            </Menu>
          </template>
        </Dropdown>
        <form v-if="moving && (owner || view)" class="by" @submit.prevent="typedMove" @keydown.esc="moving = false">
          <Input v-model:value="by.right" aria-label="Right, mm" /> right,
          <Input v-model:value="by.up" aria-label="Up, mm" /> up
          <Button html-type="submit">Move</Button>
        </form>
        <form v-if="noted || (wording && owner)" class="words" @submit.prevent="write" @keydown.esc.stop="leaveWords">
          <Input
            ref="field"
            v-model:value="typed"
            aria-label="What it says"
            :placeholder="noted ? 'Ra 1.6, POSITION ⌀0.2 A B, DATUM A, a note …' : ''"
          />
          <Button html-type="submit">{{ noted ? "Put it there" : "Say this" }}</Button>
        </form>
        <span v-else-if="!verbs.length" class="quiet hint"
          >Select a statement or a view, or right-click the paper.</span
        >
      </div>
      <div class="row">
        <Press v-for="v in always" :key="v.id" :press="v.press" :on="v.on" :disabled="v.off" @press="v.run()">{{
          v.name
        }}</Press>
        <span class="spring" />
        <Choose
          v-if="store.sheet.pages.length > 1"
          v-model:value="number"
          aria-label="Sheet number"
          :options="store.sheet.pages.map((p) => ({ value: p.number, label: `sheet ${p.number}` }))"
        />
      </div>
    </div>
  </div>
</template>

<style scoped src="./sheet/sheet.css"></style>
