import { defineStore } from "pinia";
import { api, Refusal, send, take, type JobFull, type Schemas, type TaskState } from "./api/client";
import { Chain } from "./edit/chain";
import type { Finding, Page, Proof } from "./board/types";

/** What changed from the model before, solid by solid. */
export interface Changes {
  before: string;
  after: string;
  solids_more: number;
  solids: {
    counts: Record<"same" | "moved" | "resized" | "ambiguous" | "lost", number>;
    faces: { face: number; status: string; now: number | null }[];
    new_faces: number[];
    features: { change: string; text: string; before: string | null; after: string | null }[];
    volume_mm3: number;
    centre_mm: number[];
    size_mm: number[];
  }[];
}
export interface SolidData {
  name: string;
  report: {
    file: { name: string; unit: string; step_schema: string };
    solids: Record<string, number | string | boolean | number[] | number[][]>[];
    features: Record<string, unknown>[];
    changes?: Changes;
  };
  meshes: {
    positions: number[];
    triangles: number[];
    faces: number[];
    edges: number[][];
    /** The edge that each polyline of `edges` draws. */
    edge_index: number[];
  }[];
  /** Names given to features, where they stand on this model. */
  names: { name: string; id: string | null; solid: number; status: string }[];
  /** Rounds and chamfers that a default note of the source covers. */
  covered: { id: string; solid: number; note: string }[];
}
type SheetState = Schemas["SheetState"];
/** One edit of a sheet. */
export type Command = Schemas["EditRequest"]["command"];

/** Edits of the sheet of the open job wait for one another; see `edit/chain`. */
let chain: Chain<SheetState> | null = null;
let chained: { id: number; store: unknown } | null = null;

/** The open job: what the server knows of it, and what is selected. */
export const useJob = defineStore("job", {
  state: () => ({
    id: 0,
    role: "" as string,
    name: "" as string,
    job: null as JobFull | null,
    sheet: null as (Omit<SheetState, "pages"> & { pages: Page[] }) | null,
    proof: null as Proof | null,
    solid: null as SolidData | null,
    tasks: [] as TaskState[],
    selected: null as string | null,
    feature: null as string | null,
    notice: "",
    /** The background work that ended last, to be told where it led. */
    finished: null as TaskState | null,
    busy: 0,
    proving: false,
    /** How often a proof was asked for. */
    asked: 0,
    /** Whether the ledger is folded, by station. */
    folded: {} as Record<string, boolean>,
    /** The newest version of the source that the server has told of. */
    sourceVersion: 0,
    stream: null as EventSource | null,
  }),
  getters: {
    mayEdit: (s) => s.role === "drafter" || s.role === "administrator",
    running: (s) => s.tasks.find((t) => t.state === "waiting" || t.state === "running"),
    /** Owners on the sheet that belong to the selected ledger row or statement. */
    chosen(s): string[] {
      if (!s.selected) return [];
      const row = s.proof?.ledger.find((r) => r.key === s.selected);
      return row ? row.statements : s.selected.startsWith("s:") ? [s.selected.slice(2)] : [];
    },
    /** Whether the verdicts are those of the sheet that is shown. */
    current: (s) => !!s.proof && s.proof.version === s.sheet?.version,
    /** What is to be done about the sheet: findings that follow from no other, advice left out. */
    open(s): Finding[] {
      return s.proof?.findings.filter((f) => !f.under && f.severity !== "advice") ?? [];
    },
  },
  actions: {
    say(message: string) {
      this.notice = message;
    },
    async guard<T>(work: () => Promise<T>): Promise<T | undefined> {
      this.busy++;
      try {
        return await work();
      } catch (fault) {
        this.notice = fault instanceof Error ? fault.message : String(fault);
        // Whatever is refused as late was made on something that is no longer so: it is shown as it is now.
        if (fault instanceof Refusal && fault.status === 409)
          await Promise.all([this.loadSheet(), this.loadProof()]).catch(() => undefined);
        return undefined;
      } finally {
        this.busy--;
      }
    },
    async openJob(id: number) {
      this.stream?.close();
      Object.assign(this, {
        id,
        job: null,
        sheet: null,
        proof: null,
        solid: null,
        selected: null,
        feature: null,
        tasks: [],
        finished: null,
        notice: "",
      });
      await this.guard(() => this.loadJob());
      this.listen();
    },
    /** An answer for the job that was open when it was asked for; null once another one is. */
    async mine<T>(ask: (path: { job_id: number }) => Promise<T>): Promise<T | null> {
      const id = this.id;
      const got = await ask({ job_id: id });
      return id === this.id ? got : null;
    },
    async loadJob() {
      const job = await this.mine((path) => take(api.GET("/api/jobs/{job_id}", { params: { path } })));
      if (!job) return;
      this.job = job;
      this.tasks = job.tasks;
      const work: Promise<unknown>[] = [];
      if (job.model_id && job.sheet_version) work.push(this.loadSheet().then(() => void this.loadProof()));
      if (job.model_id) work.push(this.loadSolid());
      await Promise.all(work);
    },
    async loadSheet() {
      const sheet = await this.mine((path) => take(api.GET("/api/jobs/{job_id}/sheet", { params: { path } })));
      // One that an edit brought while this was on its way is newer.
      if (sheet && !this.edits().pending) this.sheet = sheet as never;
    },
    async loadSolid() {
      const solid = await this.mine((path) => take(api.GET("/api/jobs/{job_id}/solid", { params: { path } })));
      if (solid) this.solid = solid as never;
    },
    async loadProof() {
      const asked = ++this.asked;
      this.proving = true;
      try {
        const got = await this.mine((path) => take(api.GET("/api/jobs/{job_id}/proof", { params: { path } })));
        // A later question has a later answer.
        if (got && asked === this.asked) this.proof = got as never;
      } catch (fault) {
        if (asked === this.asked && fault instanceof Refusal && fault.status !== 404) this.notice = fault.message;
      } finally {
        if (asked === this.asked) this.proving = false;
      }
    },
    listen() {
      let last = "";
      const stream = new EventSource(`/api/jobs/${this.id}/events`);
      // The session ended, or its password or role changed: whoever may still come in is let in again.
      stream.addEventListener("ended", () => {
        stream.close();
        void take(api.GET("/api/session")).then((me) => {
          this.role = me.role ?? "";
          this.name = me.name ?? "";
          if (me.role) this.listen();
          else location.assign("/sign-in");
        });
      });
      stream.onmessage = (event) => {
        const now = JSON.parse(event.data) as {
          tasks: TaskState[];
          sheet: number | null;
          source: number;
          model: number | null;
        };
        const before = this.running;
        this.tasks = now.tasks;
        this.sourceVersion = now.source;
        const key = `${now.sheet}.${now.model}.${now.source}`;
        const ended = before && !this.running;
        const finished = ended ? now.tasks.find((t) => t.id === before?.id) : undefined;
        if (finished?.error) this.notice = finished.error;
        else if (finished?.state === "done") this.finished = finished;
        const stale = now.sheet !== (this.sheet?.version ?? null) || now.model !== this.job?.model_id;
        if (ended || (last && key !== last && stale && !this.busy)) void this.guard(() => this.loadJob());
        last = key;
      };
      this.stream = stream;
    },
    close() {
      this.stream?.close();
      this.stream = null;
    },
    took(sheet: SheetState | undefined) {
      if (!sheet) return;
      this.sheet = sheet as never;
      // While more edits are on their way the proof of this one would be old before it came.
      if (this.edits().pending <= 1) void this.loadProof();
    },
    /** The edits of the open job's sheet, one after the other. */
    edits(): Chain<SheetState> {
      if (!chain || chained?.id !== this.id || chained.store !== this) {
        chained = { id: this.id, store: this };
        const id = this.id;
        chain = new Chain<SheetState>(
          () => (this.id === id ? (this.sheet as SheetState | null) : null),
          (made) => this.id === id && this.took(made),
        );
      }
      return chain;
    },
    async edit(command: Command) {
      const path = { job_id: this.id };
      await this.guard(() =>
        this.edits().add((version) =>
          take(api.POST("/api/jobs/{job_id}/sheet/edits", { params: { path }, body: { version, command } })),
        ),
      );
    },
    async step(way: "undo" | "redo") {
      const path = { job_id: this.id };
      await this.guard(() =>
        this.edits().add((version) =>
          take(
            way === "undo"
              ? api.POST("/api/jobs/{job_id}/sheet/undo", { params: { path }, body: { version } })
              : api.POST("/api/jobs/{job_id}/sheet/redo", { params: { path }, body: { version } }),
          ),
        ),
      );
    },
    async undo() {
      if (this.sheet?.can_undo || this.edits().pending) await this.step("undo");
    },
    async redo() {
      if (this.sheet?.can_redo || this.edits().pending) await this.step("redo");
    },
    async redraft(options: Omit<Schemas["RedraftRequest"], "version">) {
      if (!this.sheet) return;
      const body = { version: this.sheet.version, ...options } as Schemas["RedraftRequest"];
      await this.guard(() =>
        take(api.POST("/api/jobs/{job_id}/sheet/redraft", { params: { path: { job_id: this.id } }, body })),
      );
    },
    async upload(file: File) {
      await this.guard(async () => {
        const form = new FormData();
        form.append("file", file);
        const task = await take(send<TaskState>(`/api/jobs/${this.id}/models`, form));
        this.tasks = [task, ...this.tasks];
        this.notice = "";
      });
    },
    async cancel(task: TaskState) {
      await this.guard(() => take(api.POST("/api/tasks/{task_id}/cancel", { params: { path: { task_id: task.id } } })));
    },
    async link(number: string, statement: string) {
      await this.guard(() =>
        take(
          api.PUT("/api/jobs/{job_id}/links/{number}", {
            params: { path: { job_id: this.id, number } },
            body: {
              statement,
              seen: number in (this.proof?.links ?? {}) ? (this.proof?.links?.[number] ?? "none") : "auto",
            },
          }),
        ),
      );
      await this.loadProof();
    },
  },
});
