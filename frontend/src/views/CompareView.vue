<script setup lang="ts">
import { BTableSimple } from 'bootstrap-vue-next/components/BTable'
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { compareBuilds, type Side } from '../api'
import type { CompareView } from '../api/schema.gen'
import ElevationPanel from '../components/bench/ElevationPanel.vue'
import ChoiceField from '../components/fields/ChoiceField.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import LevelMark from '../components/frame/LevelMark.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { fixed, signed } from '../lib/format'
import { useJob } from '../stores/job'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const route = useRoute()
const frame = useJob()
const { found, problem, load } = useLoad<CompareView>(['build', 'job', 'jobs', 'shelf'])

interface Choice extends Side {
  label: string
}
const choices = computed<Choice[]>(() =>
  (frame.job?.rigs ?? []).flatMap((r) =>
    Object.entries(r.builds).map(([build, label]) => ({
      part: props.part,
      build,
      label: `${String(r.number)} ${r.label}, ${label}`,
    })),
  ),
)
const planned = computed(() => frame.job?.rigs.find((r) => r.id === props.rig)?.plan[props.part] ?? '')
const left = computed<Side>(() => ({ part: props.part, build: planned.value }))
/** The other side: what the address says, else another build of the same rig, else another rig's. */
const right = computed<Side | null>(() => {
  const asked = route.query.with
  if (typeof asked === 'string') return { part: props.part, build: asked }
  const own = Object.keys(frame.job?.rigs.find((r) => r.id === props.rig)?.builds ?? {}).find(
    (b) => b !== planned.value,
  )
  const other = own ?? choices.value.find((c) => c.build !== planned.value)?.build
  return other ? { part: props.part, build: other } : null
})

watch(
  [left, right],
  async ([a, b]) => {
    if (!a.build || !b) return
    await load(() => compareBuilds(props.job, a, b))
  },
  { immediate: true },
)

const choose = (build: string) => router.replace({ query: { with: build } })
const money = (unit: string, key: string): string =>
  key === 'hire' || key === 'value' ? (found.value?.currency ?? '') : unit
const differing = computed(() => (found.value?.parts ?? []).filter((p) => p.left.length !== p.right.length))
const alike = computed(() => (found.value?.parts ?? []).filter((p) => p.left.length === p.right.length))
const keys: KeyLine[] = [
  { keys: 'Escape', does: 'back to the Bench', run: () => router.push({ name: 'bench', params: { ...props } }) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="compare" :keys="keys" :findables="() => []">
    <main class="compare">
      <h1 class="visually-hidden">Two builds side by side</h1>
      <p v-if="problem" class="trouble">{{ problem.message }}</p>
      <template v-else-if="found">
        <section class="sides">
          <div class="one">
            <h2>
              <b>{{ found.left.number }}</b> {{ found.left.rig_label }} <span>{{ found.left.build_label }}</span>
            </h2>
            <ElevationPanel :drawing="found.left.side" selected="" :slides="{}" :flagged="{}" />
          </div>
          <div class="one">
            <h2>
              <b>{{ found.right.number }}</b>
              <label
                >against
                <ChoiceField
                  :model-value="right?.build"
                  aria-label="Compare with"
                  :choices="
                    choices.filter((x) => x.build !== left.build).map((c) => ({ value: c.build, text: c.label }))
                  "
                  :commit="choose"
                />
              </label>
            </h2>
            <ElevationPanel :drawing="found.right.side" selected="" :slides="{}" :flagged="{}" />
          </div>
        </section>
        <section class="versus" tabindex="0" aria-label="Figure by figure">
          <div>
            <BTableSimple small class="figures-table">
              <thead>
                <tr>
                  <th scope="col">{{ found.left.part_label }}</th>
                  <th scope="col">{{ found.left.build_label }}</th>
                  <th scope="col">{{ found.right.build_label }}</th>
                  <th scope="col">difference</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="f in found.figures" :key="f.key">
                  <th scope="row">
                    {{ f.name }} <small>{{ money(f.unit, f.key) }}</small>
                  </th>
                  <td>{{ f.left === null ? '–' : fixed(f.left, f.digits) }}</td>
                  <td>{{ f.right === null ? '–' : fixed(f.right, f.digits) }}</td>
                  <td class="difference">
                    {{
                      f.difference === null || Math.abs(f.difference) < 0.5 * 10 ** -f.digits
                        ? ''
                        : signed(f.difference, f.digits)
                    }}
                  </td>
                </tr>
              </tbody>
            </BTableSimple>
          </div>
          <div class="only">
            <h3>Pictures that will not match</h3>
            <p v-if="!found.pictures.differs.length" class="quiet">nothing that is known here differs</p>
            <p v-for="x in found.pictures.differs" :key="x.what">
              <b>{{ x.what }}</b> {{ x.left }} against {{ x.right }}
            </p>
            <p v-if="found.pictures.common">Both record {{ found.pictures.common }}.</p>
            <h3>Call-outs of {{ found.left.build_label }} only</h3>
            <p v-if="!found.only_left.length" class="quiet">none</p>
            <p v-for="x in found.only_left" :key="x.text"><LevelMark :level="x.level" :size="14" /> {{ x.text }}</p>
            <h3>Call-outs of {{ found.right.build_label }} only</h3>
            <p v-if="!found.only_right.length" class="quiet">none</p>
            <p v-for="x in found.only_right" :key="x.text"><LevelMark :level="x.level" :size="14" /> {{ x.text }}</p>
            <template v-if="found.both.length"
              ><h3>Both</h3>
              <p class="both">{{ found.both.join(' · ') }}</p></template
            >
          </div>
          <div class="parts-differ">
            <h3>Parts that differ</h3>
            <p v-for="p in differing" :key="p.title" class="part-line">
              <span :class="{ none: !p.left.length }">{{ p.left.join(', ') || '—' }}</span><b>{{ p.title }}</b
              ><span :class="{ none: !p.right.length }">{{ p.right.join(', ') || '—' }}</span>
            </p>
            <h3>In both</h3>
            <p class="both">{{ alike.map((p) => p.title).join(' · ') || 'nothing' }}</p>
          </div>
        </section>
      </template>
      <p v-else class="quiet">Comparing…</p>
    </main>
  </FrameShell>
</template>

<style>
.compare {
  display: grid;
  grid-template-rows: minmax(200px, 40%) minmax(0, 1fr);
  overflow: hidden;
}
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1px;
  background: var(--rule-2);
  min-height: 0;
}
.one {
  display: flex;
  flex-direction: column;
  background: var(--sheet);
  min-height: 0;
}
.one .elevation {
  flex: 1;
}
.one h2 {
  font: 400 var(--t-5) var(--text);
  padding: var(--gap-4) var(--gap-7);
  display: flex;
  gap: var(--gap-5);
  align-items: baseline;
}
.one h2 b {
  font: 700 var(--t-6) var(--figures);
  color: var(--mark);
}
.one select {
  max-width: 240px;
}
.versus {
  display: grid;
  grid-template-columns: minmax(300px, 1.1fr) minmax(0, 1.2fr) minmax(0, 1.1fr);
  overflow-y: auto;
  border-top: 1px solid var(--rule);
}
.versus > * {
  padding: var(--gap-4) var(--gap-7);
  border-right: 1px solid var(--rule-2);
}
.versus h3 {
  padding: var(--gap-5) 0 var(--gap-1);
}
.versus p {
  font-size: var(--t-3);
  padding: var(--gap-1) 0;
}
.figures-table {
  align-self: start;
  border-collapse: collapse;
  width: 100%;
}
.figures-table th {
  font-weight: 400;
  text-align: left;
  padding: var(--gap-1) 0;
  color: var(--ink-2);
  font-size: var(--t-3);
}
.figures-table thead th {
  font-weight: 600;
  color: var(--ink);
}
.figures-table thead th + th {
  text-align: right;
}
.figures-table td {
  font: 600 var(--t-5) var(--figures);
  letter-spacing: -0.04em;
  text-align: right;
  padding: var(--gap-1) 0 var(--gap-1) var(--gap-7);
}
.figures-table .difference {
  color: var(--mark);
}
.part-line {
  display: grid;
  grid-template-columns: 1fr 1.5fr 1fr;
  gap: var(--gap-5);
  border-bottom: 1px solid var(--rule-2);
}
.part-line span {
  font: 400 var(--t-2) var(--figures);
}
.part-line b {
  font-weight: 400;
}
.part-line .none {
  color: var(--ink-3);
}
.both {
  color: var(--ink-2);
}
@media (max-width: 760px) {
  .compare {
    grid-area: bench;
    overflow: visible;
  }
  .compare,
  .versus,
  .sides {
    display: block;
  }
  .one .elevation {
    height: 240px;
    display: block;
  }
}
</style>
