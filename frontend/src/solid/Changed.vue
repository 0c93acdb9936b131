<script setup lang="ts">
import { Button } from "ant-design-vue";
import { computed } from "vue";
import { useJob } from "../state";
import { writer } from "./words";

const store = useJob();
const inch = computed(() => store.job?.unit === "in");
const changes = computed(() => store.solid?.report.changes ?? null);
const say = (v: number[]) => v.map((c) => (c >= 0 ? "+" : "") + writer(inch.value)(c)).join(", ");
const STATES = [
  ["same", "as they were"],
  ["moved", "moved"],
  ["resized", "resized"],
  ["ambiguous", "ambiguous: two candidates"],
  ["lost", "gone"],
] as const;
const SHAPE: Record<string, string> = { new: "+", gone: "−", moved: "→", resized: "↔", count: "#" };
function light(id: string | null, solid: number) {
  if (id) store.feature = `${solid}.${id}`;
}
</script>

<template>
  <div>
    <p v-if="!changes" class="quiet">
      Bring in a revised model and what changed is told here: feature by feature, face by face, in words and on the
      part.
    </p>
    <template v-else>
      <p class="quiet">From “{{ changes.before }}” to “{{ changes.after }}”.</p>
      <p v-if="changes.solids_more">
        {{ Math.abs(changes.solids_more) }} solid(s) {{ changes.solids_more > 0 ? "more" : "fewer" }}.
      </p>
      <section v-for="(s, k) in changes.solids" :key="k">
        <h4 v-if="changes.solids.length > 1">Solid {{ k + 1 }}</h4>
        <p v-if="!s.features.length && s.counts.same === s.faces.length && !s.new_faces.length" class="good">
          ◆ The same body.
        </p>
        <template v-else>
          <Button
            type="text"
            v-for="(c, j) in s.features"
            :key="j"
            class="bare change"
            :disabled="!c.after"
            @click="light(c.after ?? null, k)"
          >
            <i :title="c.change">{{ SHAPE[c.change] ?? "·" }}</i>
            <span
              ><em>{{ c.change }}</em> {{ c.text }}</span
            >
          </Button>
          <p v-if="!s.features.length" class="quiet">No feature came, went or changed its size.</p>
          <p class="tab">
            volume {{ s.volume_mm3 >= 0 ? "+" : ""
            }}{{ inch ? (s.volume_mm3 / 16387.064).toFixed(4) + " in³" : s.volume_mm3.toFixed(1) + " mm³" }}
          </p>
          <p class="tab">centre {{ say(s.centre_mm) }}</p>
          <p class="tab">size {{ say(s.size_mm) }}</p>
          <h4>Faces of the model before</h4>
          <dl>
            <template v-for="[key, words] in STATES" :key="key">
              <dt class="tab">{{ s.counts[key] }}</dt>
              <dd>{{ words }}</dd>
            </template>
            <dt class="tab">{{ s.new_faces.length }}</dt>
            <dd>new, lit on the part</dd>
          </dl>
        </template>
      </section>
      <template v-if="(store.solid?.names.length ?? 0) > 0">
        <h4>Names</h4>
        <p v-for="n in store.solid?.names" :key="n.name">{{ n.name }}: {{ n.status }}</p>
      </template>
    </template>
  </div>
</template>

<style scoped>
.change {
  display: grid;
  grid-template-columns: 20px 1fr;
  width: 100%;
  text-align: left;
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-top: 1px solid #e4dfd4;
  padding: 4px;
  cursor: pointer;
}
.change:hover:enabled {
  background: var(--paper);
}
.change:disabled {
  cursor: default;
}
em {
  color: var(--plum);
  font-style: normal;
  font-size: 12px;
}
i {
  font-style: normal;
}
dl {
  display: grid;
  grid-template-columns: 40px 1fr;
  gap: 2px 8px;
  margin: 0;
}
dt {
  text-align: right;
}
dd {
  margin: 0;
}
.good {
  color: var(--moss);
  font-weight: 700;
}
h4 {
  margin: 12px 0 4px;
}
p {
  margin: 3px 0;
}
</style>
