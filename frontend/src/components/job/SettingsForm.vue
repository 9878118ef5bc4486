<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { ChoicesView, FrameView } from '../../api/schema.gen'
import { linesOf, withLine, type Leaf, type SettingLine } from '../../lib/settings'
import { useFrame } from '../../stores/frame'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** Every figure the checks of this job use, beside the usual one. */
const props = defineProps<{ view: FrameView; usual: ChoicesView['defaults'] }>()
const frame = useFrame()
const words = ref('')
const settings = computed(() => props.view.job.settings ?? props.usual)
const lines = computed(() => linesOf(settings.value, props.usual))
const shown = computed(() =>
  lines.value.filter((l) =>
    words.value
      .toLowerCase()
      .split(/\s+/)
      .every((w) => l.name.toLowerCase().includes(w)),
  ),
)
const differs = (l: SettingLine): boolean => l.value !== l.usual
const own = computed(() => lines.value.filter(differs).length)
const set = (l: SettingLine, value: Leaf): Promise<boolean> =>
  frame.editFrom((job) => ({
    op: 'set settings',
    settings: withLine(job.settings ?? props.usual, l.path, value),
  }))
</script>

<template>
  <details class="settings">
    <summary>
      <h2 id="settings-head">Settings</h2>
      <span>{{ own ? `${own} differ from the usual` : 'all as usual' }}</span>
    </summary>
    <TextField v-model="words" class="find-setting" aria-label="Find a setting" placeholder="reserve, gust, wind" />
    <ul>
      <li v-for="l in shown" :key="l.path.join('.')" :class="{ own: differs(l) }">
        <label :for="`setting-${l.path.join('-')}`">{{ l.name }}{{ l.unit ? `, ${l.unit}` : '' }}</label>
        <NumberField
          v-if="typeof l.value === 'number'"
          :id="`setting-${l.path.join('-')}`"
          :model-value="l.value"
          step="any"
          :commit="(value: number) => set(l, value)"
        />
        <TextField
          v-else
          :id="`setting-${l.path.join('-')}`"
          :model-value="l.value"
          @change="set(l, ($event.target as HTMLInputElement).value)"
        />
        <span v-if="differs(l)" class="usual">
          usual {{ l.usual ?? 'none' }}
          <BButton v-if="l.usual !== null" @click="set(l, l.usual)">Use it</BButton>
        </span>
      </li>
    </ul>
  </details>
</template>

<style>
.settings summary {
  display: flex;
  gap: var(--gap-7);
  align-items: baseline;
  cursor: pointer;
}
.settings summary span {
  color: var(--ink-2);
  font-size: var(--t-3);
}
.find-setting {
  max-width: 260px;
}
.settings ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
  gap: 0 var(--gap-9);
  padding-top: var(--gap-6);
}
.settings li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px;
  gap: var(--gap-2) var(--gap-5);
  align-items: center;
  padding: var(--gap-2) 0;
  border-bottom: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.settings li.own label {
  font-weight: 600;
  color: var(--mark);
}
.settings .usual {
  grid-column: 1 / -1;
  color: var(--ink-2);
  font-size: var(--t-2);
}
</style>
