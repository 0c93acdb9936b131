import { useEventListener } from "@vueuse/core";
import { ref } from "vue";
import { agree } from "../../source/agree";
import { useSource } from "../../source/store";
import { useJob } from "../../state";

/** What is dropped or pasted anywhere on a job: models, prints, lists of the source, lines of text. */
export function useArrivals(go: (station: string) => void) {
  const store = useJob();
  const source = useSource();
  /** Whether something is held over the page. */
  const over = ref(false);
  let held = 0;
  function openSource() {
    if (store.job && source.id !== store.id) source.open(store.id, store.job.source);
  }
  /** Prints and lists go to the source, everything else is taken for a model; the server says what it is not. */
  async function take(files: File[]) {
    if (!files.length || !store.mayEdit || !store.job) return;
    openSource();
    const prints = files.filter((f) => /\.(pdf|png|jpe?g)$/i.test(f.name));
    const lists = files.filter((f) => /\.(csv|spec|txt|md|json)$/i.test(f.name));
    for (const print of prints) await store.guard(() => source.bringPrint(print));
    for (const list of lists) await store.guard(() => source.bringList(list, agree));
    if (prints.length || lists.length) {
      go("source");
      await source.refresh();
    }
    for (const model of files.filter((f) => !prints.includes(f) && !lists.includes(f))) await store.upload(model);
  }
  const holds = (event: DragEvent) => [...(event.dataTransfer?.types ?? [])].includes("Files");
  useEventListener(window, "dragenter", (event: DragEvent) => {
    if (holds(event)) held++;
    over.value = held > 0 && store.mayEdit;
  });
  useEventListener(window, "dragleave", (event: DragEvent) => {
    if (holds(event)) held = Math.max(0, held - 1);
    over.value = held > 0;
  });
  useEventListener(window, "dragover", (event: DragEvent) => event.preventDefault());
  useEventListener(window, "drop", (event: DragEvent) => {
    held = 0;
    over.value = false;
    event.preventDefault();
    void take([...(event.dataTransfer?.files ?? [])]);
  });
  useEventListener(window, "paste", (event: ClipboardEvent) => {
    if ((event.target as Element).closest?.("input,textarea,[contenteditable]")) return;
    const files = [...(event.clipboardData?.files ?? [])];
    if (files.length) return void take(files);
    const text = event.clipboardData?.getData("text") ?? "";
    if (!text.trim() || !store.mayEdit || !store.job) return;
    openSource();
    source.paste(text);
    go("source");
    const n = text.split(/\r?\n/).filter((t) => t.trim()).length;
    store.say(`${n === 1 ? "One line" : `${n} lines`} pasted into the source.`);
  });
  return { over, take };
}
