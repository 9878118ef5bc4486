<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { readSheet } from '../api'
import type { SheetView, Step } from '../api/schema.gen'
import FrameShell from '../components/frame/FrameShell.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { grams } from '../lib/format'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const { found: sheet, problem, load } = useLoad<SheetView>(['build', 'job', 'jobs', 'shelf'])
const way = ref<'build' | 'strike'>('build')
/** Ticked steps, by rig and version: a rebuilt rig starts with a clean sheet. */
const ticked = ref<Set<string>>(new Set())

const store = (): string =>
  `sheet/${props.job}/${props.part}/${props.rig}/${way.value}/${String(sheet.value?.version ?? 0)}`
function recall(): void {
  try {
    ticked.value = new Set(JSON.parse(localStorage.getItem(store()) ?? '[]') as string[])
  } catch {
    ticked.value = new Set()
  }
}
function tick(step: Step): void {
  const next = new Set(ticked.value)
  if (!next.delete(step.unit)) next.add(step.unit)
  ticked.value = next
  try {
    localStorage.setItem(store(), JSON.stringify([...next]))
  } catch {
    // A browser that keeps nothing still ticks while the sheet is open.
  }
}

watch(
  () => [props.job, props.part, props.rig] as const,
  async ([job, part, rig]) => {
    if (await load(() => readSheet({ job, part, rig }))) recall()
  },
  { immediate: true },
)
watch(way, recall)

const print = (): void => {
  window.print()
}
const keys: KeyLine[] = [
  { keys: 'p', does: 'print', run: print },
  {
    keys: 's',
    does: 'to build, to strike',
    run: () => {
      way.value = way.value === 'build' ? 'strike' : 'build'
    },
  },
  { keys: 'Escape', does: 'back to the Bench', run: () => router.push({ name: 'bench', params: { ...props } }) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="sheet" :keys="keys" :findables="() => []">
    <main class="sheet">
      <p v-if="problem" class="trouble">{{ problem.message }}</p>
      <template v-else-if="sheet">
        <header class="sheet-head">
          <span class="number">{{ sheet.number }}</span>
          <h1>
            {{ sheet.rig_label }} <span>{{ sheet.build_label }}</span>
          </h1>
          <p>
            {{ sheet.job_title }} · {{ sheet.position }} · version {{ sheet.version }} · {{ grams(sheet.mass_g) }} g in
            all
          </p>
          <div class="sheet-acts">
            <BButton :aria-pressed="way === 'build'" @click="way = 'build'"> To build </BButton>
            <BButton :aria-pressed="way === 'strike'" @click="way = 'strike'"> To strike </BButton>
            <BButton @click="print">Print</BButton>
            <BLink class="btn btn-secondary" :to="{ name: 'bench', params: { job, part, rig } }">Bench</BLink>
          </div>
        </header>
        <section class="sheet-need">
          <p v-if="sheet.tools.length"><b>Tools</b> {{ sheet.tools.join(' · ') }}</p>
          <p v-if="sheet.settings.length">
            <b>Set</b> <span v-for="s in sheet.settings" :key="s.name">{{ s.name }} {{ s.value }}; </span>
          </p>
          <p v-for="x in sheet.stops" :key="x" class="stop"><b>Stop</b> {{ x }}</p>
          <p v-for="x in sheet.watches" :key="x" class="watch"><b>Watch</b> {{ x }}</p>
        </section>
        <ol class="steps">
          <li v-for="s in sheet[way]" :key="s.unit" :class="{ done: ticked.has(s.unit) }">
            <button type="button" class="step" :aria-pressed="ticked.has(s.unit)" @click="tick(s)">
              <span class="n">{{ s.number }}</span>
              <span class="box" aria-hidden="true"></span>
              <span class="unit">{{ way === 'strike' ? 'off: ' : '' }}{{ s.unit }}</span>
              <span class="what">{{ s.title }}</span>
              <span class="to"
                >{{ s.kind === 'cable' ? s.onto : `${way === 'strike' ? 'from' : 'on'} ${s.onto}` }}, {{ s.place
                }}<template v-if="s.set_to">
                  · <b>{{ s.set_to }}</b></template
                ></span
              >
              <span v-if="s.tool || s.torque_nm" class="tool"
                >{{ s.tool || 'by hand' }}<template v-if="s.torque_nm"> · about {{ s.torque_nm }} N·m</template></span
              >
              <span v-if="s.look_at && way === 'build'" class="look">{{ s.look_at }}</span>
              <span v-for="m in way === 'build' ? s.mind : []" :key="m" class="mind">{{ m }}</span>
            </button>
          </li>
        </ol>
        <p class="caution">
          Torques are hints; the maker's word comes first. Above people everything gets a second catch. Two people lift
          from 23 kg on.
        </p>
      </template>
    </main>
  </FrameShell>
</template>

<style>
.sheet {
  padding: var(--gap-7) var(--gap-8) 40px;
  scrollbar-width: thin;
}
.sheet-head {
  display: grid;
  grid-template: 'n title acts' auto 'n more acts' auto / auto 1fr auto;
  column-gap: var(--gap-8);
  align-items: center;
  border-bottom: 2px solid var(--ink);
  padding-bottom: var(--gap-5);
}
.sheet-head .number {
  grid-area: n;
  font: 700 var(--t-8)/1 var(--figures);
  color: var(--mark);
}
.sheet-head h1 {
  grid-area: title;
  font: 700 var(--t-7)/1.1 var(--text);
}
.sheet-head h1 span {
  font-weight: 400;
}
.sheet-head p {
  grid-area: more;
  color: var(--ink-2);
}
.sheet-acts {
  grid-area: acts;
  display: flex;
  gap: var(--gap-3);
}
.sheet-need {
  padding: var(--gap-5) 0;
  display: grid;
  gap: var(--gap-1);
  font-size: var(--t-4);
}
.sheet-need b {
  margin-right: var(--gap-4);
}
.sheet-need .stop {
  color: var(--stop);
}
.sheet-need .watch {
  color: var(--watch);
}
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2;
  column-gap: var(--gap-9);
}
.steps li {
  break-inside: avoid;
  border-bottom: 1px solid var(--rule-2);
}
.step {
  width: 100%;
  display: grid;
  grid-template: 'n box unit what' auto 'n box to to' auto 'n box tool tool' auto 'n box look look' auto / 30px 24px auto 1fr;
  column-gap: var(--gap-5);
  padding: var(--gap-4) 0;
  align-items: baseline;
}
.step .n {
  grid-area: n;
  font: 600 var(--t-6)/1.1 var(--figures);
  color: var(--ink-2);
  text-align: right;
}
.step .box {
  grid-area: box;
  width: 18px;
  height: 18px;
  border: 2px solid var(--ink-2);
  align-self: start;
  margin-top: var(--gap-1);
}
.done .step .box {
  background: var(--mark);
  border-color: var(--mark);
}
.done .step {
  opacity: 0.55;
}
.step .unit {
  font-size: var(--t-4);
}
.step .what {
  font-size: var(--t-3);
  color: var(--ink-2);
}
.step .to {
  grid-area: to;
  font-size: var(--t-4);
}
.step .tool {
  grid-area: tool;
  font: 400 var(--t-2) var(--figures);
  color: var(--mark);
  letter-spacing: -0.02em;
}
.step .look {
  grid-area: look;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.step .mind {
  grid-column: 3 / -1;
  font-size: var(--t-3);
  font-weight: 600;
  color: var(--watch);
}
@media print {
  .sheet-acts {
    display: none !important;
  }
  .sheet {
    background: #fff;
    color: #000;
    overflow: visible;
  }
  .steps {
    columns: 2;
  }
  .done .step {
    opacity: 1;
  }
  .done .step .box {
    background: none;
  }
}
@media (max-width: 760px) {
  .sheet {
    grid-area: bench;
    overflow: visible;
  }
  .sheet {
    padding: var(--gap-6) var(--gap-7) var(--gap-9);
  }
  .sheet-head {
    grid-template: 'n title' auto 'more more' auto 'acts acts' auto / auto 1fr;
  }
  .sheet-acts .btn {
    flex: 1;
    min-height: 44px;
    text-align: center;
    padding: var(--gap-6) var(--gap-4);
  }
  .steps {
    columns: 1;
  }
  .step {
    padding: var(--gap-7) 0;
  }
  .step .box {
    width: 26px;
    height: 26px;
  }
  .step {
    grid-template-columns: 26px 32px auto 1fr;
  }
}
</style>
