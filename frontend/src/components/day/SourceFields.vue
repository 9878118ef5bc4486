<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import type { ChangeSource, SoundView, Source, Voice } from '../../api/schema.gen'
import { useTicked } from '../../composables/useTicked'
import { useFrame } from '../../stores/frame'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** One source of a voice: what it runs through, its channel, where it sits, who rides it. */
const props = defineProps<{ sound: SoundView; voice: Voice; source: Source; number: number }>()
const frame = useFrame()
/** Only what is changed is sent: what was said a moment ago, here or elsewhere, stays. */
const keep = (change: Omit<ChangeSource, 'op' | 'voice' | 'source'>) =>
  frame.edit({ op: 'change source', voice: props.voice.id, source: props.source.label, ...change })
const text = (event: Event): string => (event.target as HTMLInputElement).value.trim()
const ticked = (event: Event): boolean => (event.target as HTMLInputElement).checked
const { shown: units, put: putUnits } = useTicked(
  () => props.source.units ?? [],
  (next) => keep({ units: next }),
)
const { shown: plugs, put: putPlugs } = useTicked(
  () => props.source.plugs ?? [],
  (next) => keep({ plugs: next }),
)
async function addUnit(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const unit = field.value.trim()
  if (unit && (await putUnits([...units.value, unit]))) field.value = ''
}
function earlier(n: number): void {
  const next = [...units.value]
  const [moved] = next.splice(n, 1)
  if (moved) next.splice(n - 1, 0, moved)
  void putUnits(next)
}
</script>

<template>
  <fieldset class="source" :aria-label="`Source ${source.label}`">
    <label
      >Source
      <TextField
        :model-value="source.label"
        :aria-label="`Name of source ${number}`"
        @change="text($event) && keep({ label: text($event) })"
      />
    </label>
    <span class="units">
      <span v-for="(u, n) in units" :key="u"
        >{{ u }} <BButton v-if="n" :aria-label="`${u} earlier in ${source.label}`" @click="earlier(n)">←</BButton
        ><BButton :aria-label="`${u} out of ${source.label}`" @click="putUnits(units.filter((x) => x !== u))"
          >×</BButton
        ></span
      >
      <input
        class="form-control"
        list="sound-units"
        :placeholder="units.length ? 'then…' : 'what hears it'"
        :aria-label="`Next unit of ${source.label}`"
        @change="addUnit"
      />
    </span>
    <label
      >Channel, MHz
      <NumberField
        optional
        step="0.025"
        :model-value="source.khz == null ? null : source.khz / 1000"
        :aria-label="`Channel of ${source.label}, MHz`"
        :commit="(mhz) => keep({ khz: Math.round(mhz * 1000) })"
        :clear="() => keep({ khz: 0 })"
      />
    </label>
    <template v-if="voice.wearer">
      <label
        >Pack sits in
        <TextField
          :model-value="source.pocket"
          placeholder="which pocket"
          :aria-label="`Pocket of ${source.label}`"
          @change="keep({ pocket: text($event) })"
        />
      </label>
      <label
        >Clipped at
        <TextField
          :model-value="source.clip"
          placeholder="where"
          :aria-label="`Clip of ${source.label}`"
          @change="keep({ clip: text($event) })"
        />
      </label>
    </template>
    <label
      >Level ridden by
      <TextField
        :model-value="source.rides"
        placeholder="nobody"
        :aria-label="`Who rides ${source.label}`"
        @change="keep({ rides: text($event) })"
      />
    </label>
    <label
      >Second track lower by, dB
      <NumberField
        min="0"
        max="40"
        :model-value="source.safety_db ?? 0"
        :aria-label="`Second track of ${source.label}, dB lower`"
        :commit="(safety_db) => keep({ safety_db })"
      />
    </label>
    <label class="tick"
      ><input
        class="form-check-input"
        type="checkbox"
        :checked="source.cover"
        :aria-label="`Wind cover on ${source.label}`"
        @change="keep({ cover: ticked($event) })"
      />
      wind cover on</label
    >
    <label class="tick"
      ><input
        class="form-check-input"
        type="checkbox"
        :checked="source.shows"
        :aria-label="`${source.label} can be seen`"
        @change="keep({ shows: ticked($event) })"
      />
      can be seen in the picture</label
    >
    <label class="tick"
      ><input
        class="form-check-input"
        type="checkbox"
        :checked="source.house"
        :aria-label="`${source.label} comes from the venue's desk`"
        @change="keep({ house: ticked($event) })"
      />
      from the venue’s desk</label
    >
    <div v-if="source.house" class="plugs">
      The desk may show
      <label v-for="p in sound.plugs" :key="p.id" class="tick"
        ><input
          class="form-check-input"
          type="checkbox"
          :checked="plugs.includes(p.id)"
          @change="putPlugs(ticked($event) ? [...plugs, p.id] : plugs.filter((x) => x !== p.id))"
        />
        {{ p.label }}</label
      >
    </div>
    <BButton
      class="off"
      :aria-label="`Remove source ${source.label}`"
      @click="frame.edit({ op: 'remove source', voice: voice.id, source: source.label })"
      >Remove source</BButton
    >
  </fieldset>
</template>
