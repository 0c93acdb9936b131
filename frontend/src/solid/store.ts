import { defineStore } from "pinia";
import { api, take, withFile, type Schemas } from "../api/client";
import type { Clip } from "../space/Space.vue";
import type { Hit } from "../space/picking";
import { useJob } from "../state";

export type Station = Schemas["StationState"];
export type Pick = Schemas["Pick"];
export type Row = Schemas["MeasuredRow"];
export type Measured = Schemas["Measured"];
export type Finding = Schemas["SolidFinding"];
export type LedgerRow = Schemas["StepRow"];
export type LedgerResult = Schemas["LedgerResult"];
export type TwinResult = Schemas["TwinResult"];
export type MassRow = Schemas["MassRow"];
export type MassBody = Schemas["MassBody"];
export type Masses = Schemas["Masses"];
export type Panel = "features" | "measure" | "weigh" | "steps" | "faults" | "changes";
/** What a click on the part picks. */
export type Want = "face" | "edge" | "corner" | "axis" | "sharp" | "apex";

/** A cut across an axis through the middle, the half away from the first view kept. */
export const opened = (axis: 0 | 1 | 2): Clip => ({ axis, at: 0.5, turned: axis === 1 });

/** The Solid station: what is picked, measured and weighed. */
export const useSolid = defineStore("solid", {
  state: () => ({
    id: 0,
    model: null as number | null,
    panel: "features" as Panel,
    want: "face" as Want,
    station: null as Station | null,
    picks: [] as Pick[],
    measured: null as Measured | null,
    masses: null as Masses | null,
    findings: null as Finding[] | null,
    finding: null as number | null,
    /** Faces of one colour that are lit: solid and place in its list. */
    colour: null as { solid: number; faces: number[] } | null,
    clip: null as Clip | null,
    probing: false,
    thickness: null as { mm: number | null; at: number[] } | null,
    /** Picks gathered for a frame, and the frame they are for. */
    framing: null as { kind: Schemas["FramePick"]["kind"]; need: number } | null,
    showLumps: true,
    busy: 0,
    asked: 0,
  }),
  getters: {
    ledger: (s): LedgerResult | null => s.station?.ledger?.result ?? null,
    twin: (s): TwinResult | null => s.station?.twin?.result ?? null,
    main: (s) => s.measured?.rows.find((r) => r.main) ?? s.measured?.rows[0] ?? null,
  },
  actions: {
    path() {
      return { params: { path: { job_id: this.id } } };
    },
    async run<T>(work: () => Promise<T>): Promise<T | undefined> {
      this.busy++;
      try {
        return await useJob().guard(work);
      } finally {
        this.busy--;
      }
    },
    async open(id: number, model: number | null) {
      const other = id !== this.id || model !== this.model;
      this.id = id;
      this.model = model;
      if (other)
        Object.assign(this, {
          picks: [],
          measured: null,
          masses: null,
          findings: null,
          finding: null,
          colour: null,
          thickness: null,
        });
      await this.load();
      if (this.panel !== "weigh" && model) void this.weigh();
      await this.show(this.panel);
    },
    async load() {
      const id = this.id;
      const station = await this.run(() => take(api.GET("/api/jobs/{job_id}/station", this.path())));
      if (station && id === this.id) this.station = station;
    },
    async show(panel: Panel) {
      this.panel = panel;
      // What changed is lit on the part; a feature chosen before would hide it.
      if (panel === "changes") useJob().feature = null;
      if (!this.model) return;
      if (panel === "weigh") await this.weigh();
      if (panel === "faults" && !this.findings) await this.examine();
    },
    async weigh() {
      const got = await this.run(() => take(api.GET("/api/jobs/{job_id}/masses", this.path())));
      if (got) this.masses = got;
    },
    async examine() {
      const got = await this.run(() => take(api.GET("/api/jobs/{job_id}/findings", this.path())));
      if (got) this.findings = got;
    },
    /** Take a click on the part as a pick of the kind that is wanted. */
    async hit(hit: Hit) {
      const base = { solid: hit.solid, index: hit.index, end: hit.end, id: "", member: 0 };
      if (hit.kind === "edge") return this.pick({ ...base, kind: "edge" });
      if (hit.kind === "corner") return this.pick({ ...base, kind: this.want === "apex" ? "corner" : "vertex" });
      const kind = this.want === "axis" ? "axis" : this.want === "sharp" ? "sharp" : "face";
      return this.pick({ ...base, kind });
    },
    async pick(pick: Pick) {
      if (this.framing) {
        this.picks = [...this.picks, pick];
        if (this.picks.length >= this.framing.need) await this.setFrame(this.framing.kind, this.picks);
        return;
      }
      this.picks = this.picks.length >= 2 ? [pick] : [...this.picks, pick];
      await this.measure();
    },
    async measure() {
      if (!this.picks.length) return void (this.measured = null);
      const asked = ++this.asked;
      const body = { picks: this.picks };
      const got = await this.run(() => take(api.POST("/api/jobs/{job_id}/measure", { ...this.path(), body })));
      if (asked !== this.asked) return;
      if (got) this.measured = got;
      else this.picks = this.picks.slice(0, -1);
    },
    clear() {
      this.picks = [];
      this.measured = null;
      this.framing = null;
    },
    frameBy(kind: Schemas["FramePick"]["kind"]) {
      const need = { file: 0, "box-corner": 0, "sharp-corner": 1, axis: 1, points: 3, faces: 3 }[kind];
      this.clear();
      if (!need) return;
      this.framing = { kind, need };
      this.want = kind === "faces" ? "face" : kind === "axis" ? "axis" : "corner";
    },
    async setFrame(kind: Schemas["FramePick"]["kind"], picks: Pick[], name = "") {
      const made = await this.run(() =>
        take(api.PUT("/api/jobs/{job_id}/frame", { ...this.path(), body: { kind, picks, name } })),
      );
      this.clear();
      if (!made) return;
      this.station = made;
      await this.weigh();
    },
    async patch(body: Schemas["StationPatch"]) {
      const made = await this.run(() => take(api.PATCH("/api/jobs/{job_id}/station", { ...this.path(), body })));
      if (!made) return;
      this.station = made;
      if (body.limits) await this.examine();
      else await this.weigh();
    },
    async probe(hit: Hit | null) {
      if (!hit || hit.kind !== "face") return void (this.thickness = null);
      const body = { solid: hit.solid, face: hit.index, at: hit.at };
      const mm = await this.run(() => take(api.POST("/api/jobs/{job_id}/thickness", { ...this.path(), body })));
      if (mm !== undefined) this.thickness = { mm, at: hit.at };
    },
    async weighStates() {
      useJob().started(await this.run(() => take(api.POST("/api/jobs/{job_id}/ledger", this.path()))));
    },
    async compareTwin() {
      useJob().started(await this.run(() => take(api.POST("/api/jobs/{job_id}/twin", this.path()))));
    },
    async sendRecipe(text: string, states: boolean) {
      const body = { text, states };
      useJob().started(await this.run(() => take(api.PUT("/api/jobs/{job_id}/recipe", { ...this.path(), body }))));
    },
    async addState(file: File) {
      const made = await this.run(() =>
        take(api.POST("/api/jobs/{job_id}/states", { ...this.path(), ...withFile(file) })),
      );
      if (made) this.station = made;
    },
    async changeState(id: number, body: Schemas["StatePatch"]) {
      const params = { path: { job_id: this.id, state_id: id } };
      const made = await this.run(() => take(api.PATCH("/api/jobs/{job_id}/states/{state_id}", { params, body })));
      if (made) this.station = made;
    },
    async removeState(id: number) {
      const params = { path: { job_id: this.id, state_id: id } };
      const made = await this.run(() => take(api.DELETE("/api/jobs/{job_id}/states/{state_id}", { params })));
      if (made) this.station = made;
    },
    async name(id: string, solid: number, name: string) {
      const job = useJob();
      const body = { id, solid, name };
      const made = await this.run(() => take(api.PUT("/api/jobs/{job_id}/names", { ...this.path(), body })));
      if (made && job.solid) job.put("solid", { ...job.solid, names: made });
    },
    async adopt() {
      const job = useJob();
      const made = await this.run(() => take(api.POST("/api/jobs/{job_id}/adopt", this.path())));
      if (!made) return;
      job.notice = made.added
        ? `${made.added} measurements of the model stand in the source now.`
        : "The source already states every measurement of this model.";
      await job.stale("card");
    },
    /** A measured length or angle becomes a line of the source, or a working. */
    async keep(row: Row, as: "line" | "working") {
      const job = useJob();
      if (!job.job || !this.measured) return;
      const source = job.job.source;
      const where = `${row.label}, ${this.measured.names.join(" to ")}`.slice(0, 120);
      const fresh = `q${Date.now().toString(36)}`;
      const last = source.lines.at(-1);
      const op =
        as === "line"
          ? { op: "insert", id: fresh, after: last?.id ?? null, line: { text: row.text, where } }
          : {
              op: "put",
              what: "workings",
              rev: source.revs.workings ?? 0,
              value: [...source.workings.map((w) => w.text), row.text.replace("°", " deg")],
            };
      const made = await this.run(() =>
        take(api.POST("/api/jobs/{job_id}/source/edits", { ...this.path(), body: { ops: [op] } })),
      );
      if (!made) return;
      job.tookSource(made.source);
      job.notice =
        as === "line" ? `“${row.text}” is a line of the source now.` : `“${row.text}” is on the workings pad now.`;
    },
  },
});
