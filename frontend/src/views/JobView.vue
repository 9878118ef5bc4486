<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import ChoiceField from '../components/fields/ChoiceField.vue'
import TextField from '../components/fields/TextField.vue'
import type { Findable } from '../components/frame/FinderDialog.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import ChargingForm from '../components/job/ChargingForm.vue'
import CameraTable from '../components/job/CameraTable.vue'
import DayScale from '../components/job/DayScale.vue'
import RecipeList from '../components/job/RecipeList.vue'
import PartForm from '../components/job/PartForm.vue'
import SettingsForm from '../components/job/SettingsForm.vue'
import type { KeyLine } from '../composables/useKeys'
import { DAY_MIN, minutes, onClock } from '../lib/days'
import { vTip } from '../lib/tip'
import { useFrame } from '../stores/frame'
import { useRecipes } from '../stores/recipes'
import FrameTrouble from '../components/frame/FrameTrouble.vue'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const frame = useFrame()
const recipes = useRecipes()
watch(() => props.job, frame.open, { immediate: true })

const edited = computed(() => frame.view?.job ?? null)
const parts = computed(() => edited.value?.parts ?? [])
const scale = computed(() => parts.value.map((p) => ({ ...p, moments: p.moments ?? [] })))
const chosen = computed(() => parts.value.find((p) => p.id === props.part) ?? parts.value[0] ?? null)

function choose(part: string): void {
  if (part !== props.part) void router.replace({ name: 'job', params: { job: props.job, part, rig: props.rig } })
}

/** A new part follows the last one, as long as it leaves the day. */
const fresh = ref('')
async function addPart(): Promise<void> {
  const last = parts.value.at(-1)
  const from = last ? minutes(last.ends) : Math.floor(Date.now() / 60_000 / DAY_MIN) * DAY_MIN + 9 * 60
  const label = fresh.value.trim() || `Part ${String(parts.value.length + 1)}`
  const typed = fresh.value
  fresh.value = ''
  if (await frame.edit({ op: 'add part', label, starts: onClock(from), ends: onClock(from + 120) })) {
    const made = frame.view?.job.parts?.find((p) => p.label === label)
    if (made) choose(made.id)
  } else if (!fresh.value) fresh.value = typed
}

const keys: KeyLine[] = [
  {
    keys: 'u',
    does: 'undo the last change of the job (also Ctrl Z)',
    when: (e) => (e.key === 'u' && !e.ctrlKey) || ((e.ctrlKey || e.metaKey) && e.key === 'z' && !e.shiftKey),
    run: () => frame.undo(),
  },
  {
    keys: 'U',
    does: 'redo (also Ctrl Shift Z)',
    when: (e) => e.key === 'U' || ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && e.shiftKey),
    run: () => frame.redo(),
  },
  { keys: 'p', does: 'add a part of the day', run: () => addPart() },
]

function findables(): Findable[] {
  return parts.value.map((p) => ({
    kind: 'part of the day',
    name: p.label,
    more: 'change it',
    go: () => {
      choose(p.id)
    },
  }))
}
const setCurrency = (currency: string): Promise<boolean> =>
  frame.editFrom((job) => ({
    op: 'set settings',
    settings: { ...(job.settings ?? frame.choices?.defaults), currency },
  }))
const named = (event: Event): string => (event.target as HTMLInputElement).value
</script>

<template>
  <FrameShell
    :job="props.job"
    :part="part"
    :rig="rig"
    place="job"
    :keys="keys"
    :findables="findables"
    @imported="frame.open(props.job)"
  >
    <main class="job-place">
      <div class="job-bar">
        <h1>Job</h1>
        <template v-if="edited">
          <label
            >Title
            <TextField :model-value="edited.title" @change="frame.edit({ op: 'change job', title: named($event) })"
          /></label>
          <label
            >Time zone
            <ChoiceField
              :model-value="edited.zone"
              :choices="frame.choices?.zones ?? [edited.zone ?? 'UTC']"
              :commit="(zone: string) => frame.edit({ op: 'change job', zone })"
            />
          </label>
          <label
            >Currency
            <TextField
              class="currency"
              :model-value="edited.settings?.currency ?? frame.choices?.defaults.currency"
              maxlength="12"
              @change="setCurrency(named($event))"
          /></label>
          <BButton
            v-tip="frame.view?.can_undo ?? 'Nothing to undo'"
            :disabled="!frame.view?.can_undo"
            @click="frame.undo()"
            >Undo</BButton
          >
          <BButton
            v-tip="frame.view?.can_redo ?? 'Nothing to redo'"
            :disabled="!frame.view?.can_redo"
            @click="frame.redo()"
            >Redo</BButton
          >
          <BButton
            @click="
              router.push({ name: 'venue', params: { job: props.job, part: chosen?.id ?? part, rig: props.rig } })
            "
            >Plan of the venue</BButton
          >
          <BButton @click="router.push(`/history/${props.job}`)">History</BButton>
          <BButton @click="router.push('/jobs')">All jobs</BButton>
        </template>
      </div>
      <FrameTrouble />
      <template v-if="edited">
        <section class="days" aria-labelledby="days-head">
          <h2 id="days-head">Days</h2>
          <DayScale
            :parts="scale"
            :chosen="chosen?.id ?? ''"
            :move="(part, starts, ends) => frame.edit({ op: 'change part', part, starts, ends })"
            @choose="choose"
          />
          <form class="new-part" @submit.prevent="addPart">
            <TextField v-model="fresh" aria-label="Name of a new part of the day" placeholder="Dress rehearsal" />
            <BButton type="submit">Add a part of the day</BButton>
          </form>
        </section>
        <section v-if="chosen" class="asked" :aria-label="chosen.label">
          <h2>{{ chosen.label }}</h2>
          <PartForm :key="chosen.id" :part="chosen" />
        </section>
        <section v-if="frame.view" class="all-cameras" aria-labelledby="cameras-head">
          <h2 id="cameras-head">Cameras</h2>
          <CameraTable
            :view="frame.view"
            :part="chosen?.id ?? ''"
            @bench="(part, rig) => router.push({ name: 'bench', params: { job: props.job, part, rig } })"
            @recipe="(build, label) => recipes.keep(props.job, build, label)"
          />
          <RecipeList />
        </section>
        <section v-if="frame.view" class="all-cameras" aria-labelledby="charging-head">
          <h2 id="charging-head">Swaps and charging</h2>
          <ChargingForm :view="frame.view" />
        </section>
        <section v-if="frame.view && frame.choices" class="all-cameras" aria-labelledby="settings-head">
          <SettingsForm :view="frame.view" :choices="frame.choices" />
        </section>
      </template>
    </main>
  </FrameShell>
</template>

<style>
.job-place {
  grid-area: bench / bench / foot / foot;
  min-height: 0;
  overflow-y: auto;
  background: var(--sheet);
  border-top: 1px solid var(--rule);
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
  padding: 0 var(--gap-8) var(--gap-9);
}
.job-bar {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-6);
  align-items: center;
  padding: var(--gap-6) 0;
}
.job-bar h1 {
  font: 700 var(--t-6) var(--text);
}
.job-bar label {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  font-size: var(--t-3);
  white-space: nowrap;
}
.job-bar .currency {
  width: 72px;
}
.job-place h2 {
  font: 600 var(--t-5) var(--text);
  padding: var(--gap-5) 0;
}
.new-part {
  display: flex;
  gap: var(--gap-6);
  padding: 0 0 var(--gap-8) 76px;
}
.new-part input {
  max-width: 220px;
}
@media (max-width: 900px) {
  .new-part {
    padding-left: 0;
    flex-wrap: wrap;
  }
}
</style>
