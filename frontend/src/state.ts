import { useQuery } from "@tanstack/vue-query";
import { useLocalStorage, useSessionStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, toRaw, watch } from "vue";
import { api, Refusal, take, withFile, type JobFull, type Schemas, type TaskState } from "./api/client";
import { queries } from "./api/queries";
import { Chain } from "./edit/chain";

export type SheetState = Schemas["SheetState"];
export type SolidData = Schemas["SolidData"];
export type Proof = Schemas["ProofState"];
/** One edit of a sheet. */
export type Command = Schemas["EditRequest"]["command"];

/**
 * A step of the sheet on its way to the server. Its token makes sure that it is taken once; `version` is what whoever
 * made it looked at, and `mine` are the tokens of their own steps that were on their way then.
 */
type Step = { token: string; version: number; mine: string[] } & (
  { op: "edit"; command: Command } | { op: "undo" | "redo" }
);

/** What the stream of a job tells: its newest tasks and the versions of its parts. */
interface Told {
  tasks: TaskState[];
  sheet: number | null;
  source: number;
  model: number | null;
  remarks: number;
  ticks: number;
}

const underWay = (task: TaskState) => task.state === "waiting" || task.state === "running";

/** The open job: what the server knows of it, and what is selected. */
export const useJob = defineStore("job", () => {
  const id = ref(0);
  const role = ref("");
  const name = ref("");
  const tasks = ref<TaskState[]>([]);
  const selected = ref<string | null>(null);
  const feature = ref<string | null>(null);
  /** A ledger line that is to be shown large. */
  const zoomed = ref<string | null>(null);
  const notice = ref("");
  /** What the sheet is asked to do as soon as it is on the screen: the id of an action. */
  const wanted = ref<string | null>(null);
  /** The background work that ended last, to be told where it led. */
  const finished = ref<TaskState | null>(null);
  const busy = ref(0);
  /** Whether the ledger is folded, by station. */
  const folded = useLocalStorage<Record<string, boolean>>("canonis.folded", {}, { writeDefaults: false });
  /** The newest version of the source that the server has told of. */
  const sourceVersion = ref(0);
  /** Edits of the sheet that have not come back yet. */
  const pending = ref(0);
  /** Whether the server does not answer while edits wait for it. */
  const away = ref(false);
  /** Steps of sheets that the server has not answered yet, by job. */
  const kept = useSessionStorage<Record<number, Step[]>>("canonis.steps", {}, { writeDefaults: false });
  let stream: EventSource | null = null;
  let chain: Chain<SheetState> | null = null;
  let chained = 0;

  const key = (what: string, of = id.value) => ["job", of, what] as const;
  const path = (of = id.value) => ({ params: { path: { job_id: of } } });
  /** A part of the open job that the server keeps; it can be replaced by what an edit brings back. */
  function part<T>(what: string, ask: (where: ReturnType<typeof path>) => Promise<T>, wanted: () => boolean) {
    const query = useQuery(
      {
        queryKey: computed(() => key(what)),
        queryFn: ({ queryKey }) => ask(path(queryKey[1])),
        enabled: computed(() => id.value > 0 && wanted()),
        shallow: true,
        structuralSharing: false,
      },
      queries,
    );
    const value = computed<T | null>({
      get: () => {
        // Told when it changes; read by the job that is open now, whichever answer came last.
        void query.data.value;
        return queries.getQueryData<T>(key(what)) ?? null;
      },
      set: (made) => put(what, made),
    });
    return { query, value };
  }
  /** Shows what an edit brought; an answer that was asked for before it is dropped. */
  function put(what: string, made: unknown, of = id.value) {
    void queries.cancelQueries({ queryKey: key(what, of) });
    queries.setQueryData(key(what, of), made);
  }
  const card = part<JobFull>(
    "card",
    (where) => take(api.GET("/api/jobs/{job_id}", where)),
    () => true,
  );
  const job = card.value;
  const drawn = part<SheetState>(
    "sheet",
    (where) => take(api.GET("/api/jobs/{job_id}/sheet", where)),
    () => !!job.value?.model_id && !!job.value.sheet_version,
  );
  const sheet = drawn.value;
  const measured = part<SolidData>(
    "solid",
    (where) => take(api.GET("/api/jobs/{job_id}/solid", where)),
    () => !!job.value?.model_id,
  );
  const solid = measured.value;
  const said = part<Schemas["RemarkCard"][]>(
    "remarks",
    (where) => take(api.GET("/api/jobs/{job_id}/remarks", where)),
    () => !!sheet.value,
  );
  const remarks = said.value;
  // The proof is asked for by what it proves; while more edits are on their way it would be old before it came. The one
  // before it stays on the screen, marked as such, until it is there.
  const proofKey = computed(() => [...key("proof"), sheet.value?.version ?? 0, sourceVersion.value] as const);
  const proves = new WeakMap<Proof, number>();
  const proving_ = useQuery(
    {
      queryKey: proofKey,
      queryFn: async ({ queryKey }) => {
        const made = await take(api.GET("/api/jobs/{job_id}/proof", path(queryKey[1])));
        proves.set(made, queryKey[1]);
        return made;
      },
      structuralSharing: false,
      enabled: computed(() => !!sheet.value && pending.value === 0),
      placeholderData: (before: Proof | undefined, query) => (query?.queryKey[1] === id.value ? before : undefined),
      shallow: true,
    },
    queries,
  );
  const proof = computed<Proof | null>(() => {
    const made = proving_.data.value;
    return made && sheet.value && proves.get(toRaw(made)) === id.value ? made : null;
  });
  const proving = computed(() => proving_.isFetching.value || pending.value > 0);
  const loading = computed(() => card.query.isFetching.value || drawn.query.isFetching.value);
  for (const query of [card.query, drawn.query, measured.query, proving_])
    watch(query.error, (fault) => {
      if (fault instanceof Refusal && fault.status !== 404) notice.value = fault.message;
    });
  watch(job, (now, before) => {
    if (!now) return;
    if (now.id !== before?.id) tasks.value = now.tasks;
    sourceVersion.value = Math.max(sourceVersion.value, now.source.version);
  });

  const mayEdit = computed(() => role.value === "drafter" || role.value === "administrator");
  const mayRemark = computed(() => mayEdit.value || role.value === "checker");
  const running = computed(() => tasks.value.find(underWay));
  /** Owners on the sheet that belong to the selected ledger row or statement. */
  const chosen = computed<string[]>(() => {
    if (!selected.value) return [];
    const row = proof.value?.ledger.find((r) => r.key === selected.value);
    return row ? row.statements : selected.value.startsWith("s:") ? [selected.value.slice(2)] : [];
  });
  /** Whether the verdicts are those of the sheet that is shown. */
  const current = computed(() => !!proof.value && proof.value.version === sheet.value?.version);

  function say(message: string) {
    notice.value = message;
  }
  async function guard<T>(work: () => Promise<T>): Promise<T | undefined> {
    busy.value++;
    try {
      return await work();
    } catch (fault) {
      notice.value = fault instanceof Error ? fault.message : String(fault);
      // Whatever is refused as late was made on something that is no longer so: it is shown as it is now.
      if (fault instanceof Refusal && fault.status === 409) await stale("sheet", "proof");
      return undefined;
    } finally {
      busy.value--;
    }
  }
  /** Asks again for parts of the job, all of them when none is named. */
  async function stale(...parts: string[]) {
    if (!parts.length) return queries.invalidateQueries({ queryKey: ["job", id.value] });
    await Promise.all(parts.map((what) => queries.invalidateQueries({ queryKey: key(what) })));
  }
  function openJob(of: number) {
    close();
    sourceVersion.value = 0;
    selected.value = feature.value = null;
    finished.value = null;
    tasks.value = [];
    notice.value = "";
    const known = queries.getQueryState(key("card", of)) !== undefined;
    id.value = of;
    if (known) void stale();
    listen();
  }
  function listen() {
    const of = id.value;
    let remarked = 0;
    let ticked = 0;
    let heard = false;
    const mine = new EventSource(`/api/jobs/${of}/events`);
    // The session ended, or its password or role changed: whoever may still come in is let in again.
    mine.addEventListener("ended", () => {
      mine.close();
      void take(api.GET("/api/session")).then((me) => {
        role.value = me.role ?? "";
        name.value = me.name ?? "";
        // What one may see may be another now.
        void queries.resetQueries();
        if (me.role) listen();
        else location.assign("/sign-in");
      });
    });
    mine.onmessage = (event: MessageEvent<string>) => {
      if (of !== id.value) return;
      const now = JSON.parse(event.data) as Told;
      // One task may follow another at once, or be over before it was ever told of: whatever was not over before
      // and is over now has ended.
      const over = new Set(tasks.value.filter((t) => !underWay(t)).map((t) => t.id));
      const ended = heard ? now.tasks.filter((t) => !underWay(t) && !over.has(t.id)) : [];
      heard = true;
      tasks.value = now.tasks;
      sourceVersion.value = now.source;
      for (const task of [...ended].reverse())
        if (task.error) notice.value = task.error;
        else if (task.state === "done" && task.kind !== "rivals") {
          finished.value = task;
          // What is to be said of it beside that it is done.
          if (task.stage !== "Done") notice.value = task.stage;
        }
      const model = job.value && now.model !== job.value.model_id;
      const drawing = sheet.value
        ? now.sheet !== sheet.value.version && !pending.value
        : job.value && now.sheet !== null;
      if (ended.length || model) void stale();
      else if (drawing) void stale("card", "sheet");
      if (remarked !== now.remarks) void stale("remarks");
      remarked = now.remarks;
      if (ticked !== now.ticks) void stale("proof");
      ticked = now.ticks;
    };
    stream = mine;
  }
  function close() {
    stream?.close();
    stream = null;
    id.value = 0;
  }
  /** The edits of the open job's sheet, one after the other. */
  function edits(): Chain<SheetState> {
    if (!chain || chained !== id.value) {
      const of = (chained = id.value);
      chain = new Chain<SheetState>(
        (made) => put("sheet", made, of),
        (count) => of === id.value && (pending.value = count),
        (fault) => {
          const gone = fault instanceof Refusal && [0, 503].includes(fault.status);
          away.value = gone && of === id.value;
          return gone;
        },
      );
      pending.value = 0;
    }
    return chain;
  }
  function keepSteps(of: number, steps: Step[]) {
    const others = Object.entries(kept.value).filter(([job]) => Number(job) !== of);
    kept.value = Object.fromEntries(steps.length ? [...others, [of, steps]] : others);
  }
  /** Puts an edit on its way; until the server has answered it is kept over a reload. Whether the server took it. */
  async function send(step: Step): Promise<boolean> {
    const of = id.value;
    const where = path(of);
    keepSteps(of, [...(kept.value[of] ?? []), step]);
    const { token, version, mine } = step;
    const made = { token, version, mine };
    try {
      const taken = await guard(async () => {
        await edits().add(() =>
          take(
            step.op === "edit"
              ? api.POST("/api/jobs/{job_id}/sheet/edits", { ...where, body: { ...made, command: step.command } })
              : step.op === "undo"
                ? api.POST("/api/jobs/{job_id}/sheet/undo", { ...where, body: made })
                : api.POST("/api/jobs/{job_id}/sheet/redo", { ...where, body: made }),
          ),
        );
        return true;
      });
      return taken ?? false;
    } finally {
      away.value = false;
      const left = (kept.value[of] ?? []).filter((s) => s.token !== step.token);
      keepSteps(of, left);
    }
  }
  const token = () => `${Date.now().toString(36)}${Math.random().toString(36).slice(2, 10)}`;
  /** What a step that is made now was made on; null where there is no sheet to make it on. */
  function made() {
    const version = sheet.value?.version;
    return version === undefined
      ? null
      : { token: token(), version, mine: (kept.value[id.value] ?? []).map((s) => s.token) };
  }
  async function edit(command: Command) {
    const on = made();
    return on ? await send({ op: "edit", ...on, command }) : false;
  }
  async function step(op: "undo" | "redo", may: boolean | undefined) {
    const on = made();
    if (on && (may || edits().pending)) await send({ op, ...on });
  }
  const undo = () => step("undo", sheet.value?.can_undo);
  const redo = () => step("redo", sheet.value?.can_redo);
  /** Edits that a reload cut off go out again; those that the server has already are known by their token. */
  watch(
    () => sheet.value && id.value,
    (of) => {
      // Steps that an older page kept do not say what they were made on.
      const left = of && !pending.value ? (kept.value[of] ?? []).filter((s) => s.version !== undefined) : [];
      if (!of || !left.length) return;
      keepSteps(of, []);
      for (const step of left) void send(step);
    },
  );
  async function redraft(options: Omit<Schemas["RedraftRequest"], "version">) {
    if (!sheet.value) return;
    const body = { version: sheet.value.version, ...options };
    started(await guard(() => take(api.POST("/api/jobs/{job_id}/sheet/redraft", { ...path(), body }))));
  }
  function started(task: TaskState | undefined) {
    if (task) tasks.value = [task, ...tasks.value.filter((t) => t.id !== task.id)];
  }
  async function upload(file: File) {
    const task = await guard(() => take(api.POST("/api/jobs/{job_id}/models", { ...path(), ...withFile(file) })));
    if (task) notice.value = "";
    started(task);
  }
  async function cancel(task: TaskState) {
    await guard(() => take(api.POST("/api/tasks/{task_id}/cancel", { params: { path: { task_id: task.id } } })));
  }
  /** What a characteristic is linked to: `auto` by the program, `none`, or a statement. */
  const linked = (number: string) => {
    const links = proof.value?.links ?? {};
    return number in links ? (links[number] ?? "none") : "auto";
  };
  async function link(number: string, statement: string) {
    const params = { path: { job_id: id.value, number } };
    const body = { statement, seen: linked(number) };
    await guard(() => take(api.PUT("/api/jobs/{job_id}/links/{number}", { params, body })));
    await stale("proof");
  }
  /** Say yes to a line of the source as it stands; whether it was taken. */
  async function tick(row: { number: string; place: string }) {
    const params = { path: { job_id: id.value, number: row.number } };
    const body = { place: row.place };
    const done = await guard(async () => {
      await take(api.PUT("/api/jobs/{job_id}/ticks/{number}", { params, body }));
      return true;
    });
    await stale("proof");
    return !!done;
  }
  async function untick(row: { number: string }) {
    const params = { path: { job_id: id.value, number: row.number } };
    await guard(() => take(api.DELETE("/api/jobs/{job_id}/ticks/{number}", { params })));
    await stale("proof");
  }
  async function remark(statement: string, text: string) {
    const body = { statement, text };
    const made = await guard(() => take(api.POST("/api/jobs/{job_id}/remarks", { ...path(), body })));
    if (made) put("remarks", made);
    return !!made;
  }
  async function settle(remark_id: number, settled: boolean) {
    const params = { path: { job_id: id.value, remark_id } };
    const made = await guard(() =>
      take(api.PATCH("/api/jobs/{job_id}/remarks/{remark_id}", { params, body: { settled } })),
    );
    if (made) put("remarks", made);
  }
  async function takeBack(remark_id: number) {
    const params = { path: { job_id: id.value, remark_id } };
    const made = await guard(() => take(api.DELETE("/api/jobs/{job_id}/remarks/{remark_id}", { params })));
    if (made) put("remarks", made);
  }
  /** What an edit of the source brought, for whoever reads the source from the job. */
  function tookSource(source: JobFull["source"], of = id.value) {
    const whole = queries.getQueryData<JobFull>(key("card", of));
    if (whole) put("card", { ...whole, source }, of);
    if (of === id.value) sourceVersion.value = Math.max(sourceVersion.value, source.version);
  }

  return {
    id, role, name, job, sheet, proof, solid, remarks, tasks, selected, feature, zoomed, notice, wanted, finished, busy, folded, sourceVersion,
    pending, away, mayEdit, mayRemark, running, chosen, current, proving, loading, say, guard, stale, openJob, listen, close, edit, undo,
    redo, redraft, started, upload, cancel, linked, link, tick, untick, remark, settle, takeBack, tookSource, put,
  }; // prettier-ignore
});
