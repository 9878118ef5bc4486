<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { DayView, SoundView, Source, Voice } from '../../api/schema.gen'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** A voice: who wears it, when it sounds, and its sources; every change is kept as it is made. */
const props = defineProps<{
  view: DayView
  sound: SoundView
  voice: Voice
  things: readonly { id: string; label: string }[]
}>()
const emit = defineEmits<{ gone: [] }>()
const frame = useFrame()
const keep = (change: Partial<Voice>) => frame.edit({ op: 'put voice', voice: { ...props.voice, ...change } })
const sources = computed(() => props.voice.sources ?? [])
const keepSource = (i: number, change: Partial<Source>) =>
  keep({ sources: sources.value.map((s, n) => (n === i ? { ...s, ...change } : s)) })
const text = (event: Event): string => (event.target as HTMLInputElement).value.trim()
const ticked = (event: Event): boolean => (event.target as HTMLInputElement).checked
const parts = computed(() => props.voice.parts ?? [])
const CONSENT = [
  { value: '', text: 'not asked' },
  { value: 'asked', text: 'asked' },
  { value: 'given', text: 'given' },
  { value: 'refused', text: 'refused' },
  { value: 'not needed', text: 'not needed' },
] as const
const places = computed(() => [
  { value: '', text: 'nowhere on the plan' },
  ...props.things.map((t) => ({ value: t.id, text: t.label })),
])
async function addUnit(i: number, event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const unit = field.value.trim()
  if (!unit) return
  if (await keepSource(i, { units: [...(sources.value[i]?.units ?? []), unit] })) field.value = ''
}
const addSource = () => {
  const taken = sources.value.map((s) => s.label)
  const label = ['first source', 'second source', 'third source', 'fourth source'].find((l) => !taken.includes(l))
  return keep({ sources: [...sources.value, { label: label ?? `source ${String(taken.length + 1)}` }] })
}
function earlier(i: number, n: number): void {
  const units = [...(sources.value[i]?.units ?? [])]
  const [moved] = units.splice(n, 1)
  if (moved) units.splice(n - 1, 0, moved)
  void keepSource(i, { units })
}
async function remove(): Promise<void> {
  if (await frame.edit({ op: 'remove voice', voice: props.voice.id })) emit('gone')
}
</script>

<template>
  <section class="voice-panel" :aria-label="`Voice ${voice.label}`">
    <label
      >Voice or sound
      <TextField
        :model-value="voice.label"
        aria-label="Name of the voice"
        @change="text($event) && keep({ label: text($event) })"
      />
    </label>
    <label
      >Worn by
      <TextField
        :model-value="voice.wearer"
        placeholder="nobody"
        aria-label="Who wears it"
        @change="keep({ wearer: text($event) })"
      />
    </label>
    <label
      >Comes from
      <ChoiceField
        :model-value="voice.thing"
        :choices="places"
        aria-label="Where it comes from"
        :commit="(thing: string) => keep({ thing })"
      />
    </label>
    <fieldset>
      <legend>Sounds in</legend>
      <label v-for="p in view.parts" :key="p.id" class="tick">
        <input
          class="form-check-input"
          type="checkbox"
          :checked="parts.includes(p.id)"
          @change="
            keep({
              parts: view.parts.map((x) => x.id).filter((id) => (id === p.id ? ticked($event) : parts.includes(id))),
            })
          "
        />
        {{ p.label }}
      </label>
    </fieldset>
    <label class="tick">
      <input class="form-check-input" type="checkbox" :checked="voice.once" @change="keep({ once: ticked($event) })" />
      lost when it is missed, where the part cannot be repeated
    </label>
    <template v-if="voice.wearer">
      <label
        >Agreed
        <ChoiceField
          :model-value="voice.consent"
          :choices="CONSENT"
          aria-label="Agreed to be recorded"
          :commit="(consent: NonNullable<Voice['consent']>) => keep({ consent })"
        />
      </label>
      <label
        >Microphones put on by
        <TextField
          :model-value="voice.mic_by"
          placeholder="whoever is free"
          aria-label="Who puts the microphones on"
          @change="keep({ mic_by: text($event) })"
        />
      </label>
      <label
        >in
        <TextField
          :model-value="voice.mic_at"
          placeholder="a room"
          aria-label="In which room"
          @change="keep({ mic_at: text($event) })"
        />
      </label>
    </template>
    <datalist id="sound-units">
      <option v-for="u in sound.units" :key="u.id" :value="u.id">{{ u.title }}</option>
    </datalist>
    <fieldset v-for="(s, i) in sources" :key="i" class="source" :aria-label="`Source ${s.label}`">
      <label
        >Source
        <TextField
          :model-value="s.label"
          :aria-label="`Name of source ${i + 1}`"
          @change="text($event) && keepSource(i, { label: text($event) })"
        />
      </label>
      <span class="units">
        <span v-for="(u, n) in s.units ?? []" :key="u"
          >{{ u }} <BButton v-if="n" :aria-label="`${u} earlier in ${s.label}`" @click="earlier(i, n)">←</BButton
          ><BButton
            :aria-label="`${u} out of ${s.label}`"
            @click="keepSource(i, { units: (s.units ?? []).filter((x) => x !== u) })"
            >×</BButton
          ></span
        >
        <input
          class="form-control"
          list="sound-units"
          :placeholder="s.units?.length ? 'then…' : 'what hears it'"
          :aria-label="`Next unit of ${s.label}`"
          @change="addUnit(i, $event)"
        />
      </span>
      <label
        >Channel, MHz
        <NumberField
          optional
          step="0.025"
          :model-value="s.khz == null ? null : s.khz / 1000"
          :aria-label="`Channel of ${s.label}, MHz`"
          :commit="(mhz) => keepSource(i, { khz: Math.round(mhz * 1000) })"
          :clear="() => keepSource(i, { khz: null })"
        />
      </label>
      <template v-if="voice.wearer">
        <label
          >Pack sits in
          <TextField
            :model-value="s.pocket"
            placeholder="which pocket"
            :aria-label="`Pocket of ${s.label}`"
            @change="keepSource(i, { pocket: text($event) })"
          />
        </label>
        <label
          >Clipped at
          <TextField
            :model-value="s.clip"
            placeholder="where"
            :aria-label="`Clip of ${s.label}`"
            @change="keepSource(i, { clip: text($event) })"
          />
        </label>
      </template>
      <label
        >Level ridden by
        <TextField
          :model-value="s.rides"
          placeholder="nobody"
          :aria-label="`Who rides ${s.label}`"
          @change="keepSource(i, { rides: text($event) })"
        />
      </label>
      <label
        >Second track lower by, dB
        <NumberField
          min="0"
          max="40"
          :model-value="s.safety_db ?? 0"
          :aria-label="`Second track of ${s.label}, dB lower`"
          :commit="(safety_db) => keepSource(i, { safety_db })"
        />
      </label>
      <label class="tick"
        ><input
          class="form-check-input"
          type="checkbox"
          :checked="s.cover"
          :aria-label="`Wind cover on ${s.label}`"
          @change="keepSource(i, { cover: ticked($event) })"
        />
        wind cover on</label
      >
      <label class="tick"
        ><input
          class="form-check-input"
          type="checkbox"
          :checked="s.house"
          :aria-label="`${s.label} comes from the venue's desk`"
          @change="keepSource(i, { house: ticked($event) })"
        />
        from the venue’s desk</label
      >
      <div v-if="s.house" class="plugs">
        The desk may show
        <label v-for="p in sound.plugs" :key="p.id" class="tick"
          ><input
            class="form-check-input"
            type="checkbox"
            :checked="(s.plugs ?? []).includes(p.id)"
            @change="
              keepSource(i, {
                plugs: ticked($event) ? [...(s.plugs ?? []), p.id] : (s.plugs ?? []).filter((x) => x !== p.id),
              })
            "
          />
          {{ p.label }}</label
        >
      </div>
      <BButton
        class="off"
        :aria-label="`Remove source ${s.label}`"
        @click="keep({ sources: sources.filter((_, n) => n !== i) })"
        >Remove source</BButton
      >
    </fieldset>
    <p v-if="frame.problem" class="trouble" role="alert">{{ frame.problem.message }}</p>
    <div class="acts">
      <BButton variant="primary" @click="addSource">Add a source</BButton>
      <BButton class="off" @click="remove">Remove {{ voice.label }}</BButton>
    </div>
  </section>
</template>

<style>
.voice-panel {
  display: grid;
  gap: var(--gap-5);
  align-content: start;
}
.voice-panel label {
  display: grid;
  grid-template-columns: 116px minmax(0, 1fr);
  gap: var(--gap-4);
  align-items: center;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.voice-panel label.tick {
  grid-template-columns: auto 1fr;
  color: var(--ink);
  font-size: var(--t-3);
  min-height: 26px;
}
.voice-panel fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  gap: var(--gap-2);
}
.voice-panel legend {
  font-size: var(--t-2);
  color: var(--ink-2);
  margin: 0;
}
.voice-panel .source {
  border-top: 3px solid var(--rule);
  padding-top: var(--gap-5);
  gap: var(--gap-4);
}
.voice-panel .units {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  font: 600 var(--t-3) var(--figures);
}
.voice-panel .units .btn {
  min-height: 24px;
  padding: 0 var(--gap-3);
}
.voice-panel .units .form-control {
  flex: 1 1 110px;
}
.voice-panel .plugs {
  font-size: var(--t-2);
  color: var(--ink-2);
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.voice-panel .acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
@media (max-width: 760px) {
  .voice-panel label.tick,
  .voice-panel .units .btn {
    min-height: 44px;
  }
}
</style>
