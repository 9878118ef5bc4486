<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { ChangeVoice, DayView, SoundView, Voice } from '../../api/schema.gen'
import { useTicked } from '../../composables/useTicked'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import RollingTicks from './RollingTicks.vue'
import SourceFields from './SourceFields.vue'
import FrameTrouble from '../frame/FrameTrouble.vue'

/** A voice: who wears it, when it sounds, and its sources; every change is kept as it is made. */
const props = defineProps<{
  job: string
  view: DayView
  sound: SoundView
  voice: Voice
  things: readonly { id: string; label: string }[]
}>()
const emit = defineEmits<{ gone: []; noted: [view: SoundView] }>()
const frame = useFrame()
/** Only what is changed is sent: what was said a moment ago, here or elsewhere, stays. */
const keep = (change: Omit<ChangeVoice, 'op' | 'voice'>) =>
  frame.edit({ op: 'change voice', voice: props.voice.id, ...change })
const sources = computed(() => props.voice.sources ?? [])
const text = (event: Event): string => (event.target as HTMLInputElement).value.trim()
const ticked = (event: Event): boolean => (event.target as HTMLInputElement).checked
const { shown: parts, put: putParts } = useTicked(
  () => props.voice.parts ?? [],
  (next) => keep({ parts: next }),
)
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
const addSource = () => {
  const taken = sources.value.map((s) => s.label)
  const label = ['first source', 'second source', 'third source', 'fourth source'].find((l) => !taken.includes(l))
  const source = label ?? `source ${String(taken.length + 1)}`
  return frame.edit({ op: 'change source', voice: props.voice.id, source })
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
            putParts(view.parts.map((x) => x.id).filter((id) => (id === p.id ? ticked($event) : parts.includes(id))))
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
    <label
      >Louder than speech by, dB
      <NumberField
        min="0"
        max="80"
        step="any"
        :model-value="voice.louder_db ?? 0"
        aria-label="How much louder than speech it gets, dB"
        :commit="(louder_db: number) => keep({ louder_db })"
      />
    </label>
    <RollingTicks
      v-if="sources.length"
      :job="job"
      :sound="sound"
      :voice="voice"
      @noted="(view) => emit('noted', view)"
    />
    <SourceFields v-for="(s, i) in sources" :key="i" :sound="sound" :voice="voice" :source="s" :number="i + 1" />
    <FrameTrouble />
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
