import { getDocument, GlobalWorkerOptions, type PDFDocumentProxy } from "pdfjs-dist";
import worker from "pdfjs-dist/build/pdf.worker.min.mjs?url";
import { ref, shallowRef, type Ref } from "vue";
import type { PrintCard } from "../store";

GlobalWorkerOptions.workerSrc = worker;

/** The file of a print, fetched and painted onto a canvas. */
export function useLeaf(
  job: () => number,
  print: Ref<PrintCard | undefined>,
  canvas: Ref<HTMLCanvasElement | undefined>,
) {
  const opened = shallowRef<{ id: number; pdf: PDFDocumentProxy | null; picture: ImageBitmap | null } | null>(null);
  const busy = ref(false);
  const fault = ref("");
  async function load() {
    const p = print.value;
    if (!p || opened.value?.id === p.id) return;
    busy.value = true;
    fault.value = "";
    try {
      const answer = await fetch(`/api/jobs/${job()}/prints/${p.id}/file`);
      if (!answer.ok) throw new Error("The print could not be fetched; reload the page.");
      const data = await answer.arrayBuffer();
      const pdf = p.kind === "pdf" ? await getDocument({ data, isEvalSupported: false }).promise : null;
      const picture = pdf ? null : await createImageBitmap(new Blob([data]));
      opened.value = { id: p.id, pdf, picture };
    } catch (reason) {
      fault.value = reason instanceof Error ? reason.message : String(reason);
    } finally {
      busy.value = false;
    }
  }
  let drawing = 0;
  /** Paint a page, turned, as wide as it is shown; a later call overtakes this one. */
  async function draw(page: number, turn: number, size: { w: number; h: number }, shown: number) {
    const doc = opened.value;
    const sheet = canvas.value;
    if (!doc || !sheet || doc.id !== print.value?.id) return;
    const ticket = ++drawing;
    const wide = Math.min(4200, Math.max(300, shown * Math.min(2, window.devicePixelRatio || 1)));
    const k = wide / size.w;
    const off = document.createElement("canvas");
    off.width = Math.round(size.w * k);
    off.height = Math.round(size.h * k);
    const pen = off.getContext("2d");
    if (!pen) return;
    if (doc.pdf) {
      const leaf = await doc.pdf.getPage(page);
      const rotation = (leaf.rotate + turn) % 360;
      const plain = leaf.getViewport({ scale: 1, rotation });
      const viewport = leaf.getViewport({ scale: off.width / plain.width, rotation });
      pen.fillStyle = "#fff";
      pen.fillRect(0, 0, off.width, off.height);
      await leaf.render({ canvasContext: pen, viewport, canvas: off }).promise;
    } else if (doc.picture) {
      pen.translate(off.width / 2, off.height / 2);
      pen.rotate((turn * Math.PI) / 180);
      const [w, h] = turn % 180 ? [off.height, off.width] : [off.width, off.height];
      pen.drawImage(doc.picture, -w / 2, -h / 2, w, h);
    }
    if (ticket !== drawing) return;
    sheet.width = off.width;
    sheet.height = off.height;
    sheet.getContext("2d")?.drawImage(off, 0, 0);
  }
  return { opened, busy, fault, load, draw };
}
