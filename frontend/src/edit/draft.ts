import { useSessionStorage } from "@vueuse/core";
import { computed, ref, watch, type ComputedRef, type Ref } from "vue";

/** The text of a field between the hand that types and the server that keeps it. */
export interface Draft {
  /** What the field shows. */
  text: Ref<string>;
  /** Whether what was typed is not what is stored. */
  dirty: ComputedRef<boolean>;
  /** What somebody else stored while this was being typed; null when nobody did. */
  theirs: Ref<string | null>;
  /** The field got the focus: from here on no answer touches it. */
  take: () => void;
  /** What is typed goes to the server; the field stays at work. */
  give: (again?: boolean) => void;
  /** The field lost the focus: what is typed goes to the server. */
  leave: () => void;
  /** Back to what is stored. */
  drop: () => void;
}

/**
 * A field that loses nothing: an answer of the server never touches what is being typed, nor what is typed and not stored
 * yet, and that survives a reload. `key` names the field among all of this browser's, `stored` is what the server has,
 * `send` hands an edit on; it may be called again with a newer text while one is on its way.
 */
export function useDraft(key: () => string, stored: () => string, send: (text: string) => void): Draft {
  const kept = useSessionStorage<Record<string, string>>("canonis.drafts", {});
  const base = ref(stored());
  const text = ref(kept.value[key()] ?? stored());
  const typed = ref(key() in kept.value);
  const theirs = ref<string | null>(null);
  let held = false;
  /** What the field showed when it got the focus. */
  let found = "";
  /** What is on its way to the server. */
  let sent: string | null = null;

  const dirty = computed(() => typed.value && text.value !== base.value);
  function keep() {
    const others = { ...kept.value };
    delete others[key()];
    kept.value = dirty.value ? { ...others, [key()]: text.value } : others;
  }
  function show(now: string, own = false) {
    text.value = now;
    typed.value = own;
    theirs.value = null;
    sent = null;
    keep();
  }
  watch(
    text,
    (now) => {
      if (now !== base.value) typed.value = true;
      keep();
    },
    { flush: "sync" },
  );
  watch(key, () => {
    held = false;
    base.value = stored();
    show(kept.value[key()] ?? stored(), key() in kept.value);
  });
  watch(stored, (now) => {
    const before = base.value;
    base.value = now;
    const ours = now === text.value || (sent !== null && now.trim() === sent.trim());
    if (held) {
      if (!ours && typed.value) theirs.value = now;
    } else if (!typed.value || text.value === before || ours) show(now);
    else theirs.value = now;
    keep();
  });
  function give(again = false) {
    // What was refused is asked for once more only by a press of Enter.
    if (!dirty.value || (text.value === sent && !again)) return;
    sent = text.value;
    theirs.value = null;
    send(text.value);
  }
  return {
    text,
    dirty,
    theirs,
    take: () => {
      held = true;
      found = text.value;
    },
    give,
    leave: () => {
      held = false;
      // Only looked at: it shows what is stored meanwhile.
      if (!typed.value) show(base.value);
      else if (text.value !== found) give();
    },
    drop: () => show(base.value),
  };
}
