<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed } from 'vue'
import { dayPaper, soundFile, soundLog } from '../../api'
import type { DayView, SoundView } from '../../api/schema.gen'
import { clock, fixed } from '../../lib/format'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import RadioStrip from './RadioStrip.vue'

/** Every voice of the day with its sources as they are strung together, the radio, what keeps devices in step, and
 * microphones on people. Sources are drawn for the part of the day that is looked at. */
const props = defineProps<{ job: string; view: DayView; sound: SoundView | null; part: string; voice: string }>()
const emit = defineEmits<{ voice: [id: string]; part: [id: string]; add: [] }>()

/** How far a source is from counting as rolling; nothing where nobody has begun. */
const rolls = (voice: string, source: string): string => {
  const row = props.sound?.rolling.find((r) => r.voice === voice && r.source === source)
  return !row?.done.length ? '' : row.counts ? 'rolling' : `${String(row.done.length)} of 4`
}
const label = (part: string): string => props.view.parts.find((p) => p.id === part)?.label ?? part
const heardOf = (voice: string) => (props.sound?.heard ?? []).filter((h) => h.voice === voice)
/** As it is in the part that is looked at, else in the first that it sounds in. */
const nowOf = (voice: string) => heardOf(voice).find((h) => h.part === props.part) ?? heardOf(voice)[0]
const air = computed(() => props.sound?.air.find((a) => a.part === props.part) ?? props.sound?.air[0])
const devices = computed(() => {
  const by = new Map<string, { unit: string; rig: string; at: Map<string, SoundView['devices'][number]> }>()
  for (const d of props.sound?.devices ?? []) {
    const row = by.get(d.unit) ?? { unit: d.unit, rig: d.rig, at: new Map() }
    row.at.set(d.part, d)
    by.set(d.unit, row)
  }
  return [...by.values()]
})
const guides = computed(() => (props.sound?.guides ?? []).filter((g) => g.part === props.part && g.frames >= 1))
const frame = useFrame()
type Method = SoundView['sync'][number]['method'] | ''
const METHODS: { value: Method; text: string }[] = [
  { value: '', text: 'as it is plugged' },
  { value: 'timecode box', text: 'timecode box' },
  { value: 'jammed once', text: 'jammed once' },
  { value: 'direct', text: 'sound direct into it' },
  { value: 'guide sound', text: 'guide sound' },
  { value: 'none', text: 'nothing' },
]
const saidOf = (unit: string): Method => props.sound?.sync.find((x) => x.unit === unit)?.method ?? ''
const SIGN: Record<string, string> = { cable: '──', radio: ')))', plugged: '━', '': '╳' }
const SAID: Record<string, string> = {
  cable: 'by cable to',
  radio: 'by radio to',
  plugged: 'plugged into',
  '': 'leads nowhere before',
}
const SHORT: Record<string, string> = {
  'timecode box': 'timecode',
  'jammed once': 'jammed',
  direct: 'direct',
  'guide sound': 'guide',
  none: 'nothing',
}
</script>

<template>
  <section class="sound-day" aria-label="Sound">
    <p v-if="!sound" class="quiet">Listening…</p>
    <template v-else>
      <header class="sound-head">
        <h2>
          Voices <small>in {{ label(part) }}</small>
        </h2>
        <BButton @click="emit('add')">Add a voice</BButton>
        <BLink v-if="sound.voices.length" class="btn btn-secondary" :href="dayPaper(job, 'sound')" target="_blank"
          >PDF</BLink
        >
        <BLink v-if="sound.voices.length" class="btn btn-secondary" :href="soundFile(job)">CSV</BLink>
        <BLink v-if="sound.rolling.some((r) => r.done.length)" class="btn btn-secondary" :href="soundLog(job)"
          >Log</BLink
        >
      </header>
      <p v-if="!sound.voices.length" class="quiet">
        Nothing is to be heard yet. Add the first voice: who or what sounds, in which parts, and what records it.
      </p>
      <article
        v-for="v in sound.voices"
        :key="v.id"
        class="voice"
        :class="{ chosen: v.id === voice, elsewhere: nowOf(v.id)?.part !== part }"
      >
        <button type="button" class="voice-name" :aria-expanded="v.id === voice" @click="emit('voice', v.id)">
          <b>{{ v.label }}</b>
          <small>{{ v.wearer ? `on ${v.wearer === v.label ? 'the person' : v.wearer}` : 'worn by nobody' }}</small>
        </button>
        <span class="voice-parts">
          <button
            v-for="h in heardOf(v.id)"
            :key="h.part"
            type="button"
            :class="{ short: h.have < h.wanted, here: h.part === part }"
            :aria-label="`${v.label} in ${label(h.part)}: ${h.have} independent of ${h.wanted} wanted`"
            :title="label(h.part)"
            @click="emit('part', h.part)"
          >
            <b>{{ h.have }}</b>/{{ h.wanted }}<small>{{ label(h.part) }}</small>
          </button>
        </span>
        <p v-if="nowOf(v.id) && nowOf(v.id)?.part !== part" class="then">
          not in {{ label(part) }}; as it is in {{ label(nowOf(v.id)?.part ?? '') }}
        </p>
        <ul v-if="nowOf(v.id)" class="chains">
          <li v-for="s in nowOf(v.id)?.sources" :key="s.label" :class="{ broken: !s.whole, independent: s.counts }">
            <span class="source-name"
              >{{ s.label }}<small v-if="rolls(v.id, s.label)">{{ rolls(v.id, s.label) }}</small></span
            >
            <span class="chain">
              <template v-if="s.house"
                ><span class="link desk"><b>the desk</b><small>venue</small></span
                ><span class="hop cable"><i aria-hidden="true">──</i></span></template
              >
              <template v-for="(l, i) in s.links" :key="l.unit">
                <span class="link" :title="`${l.title}${l.rig ? `, ${l.rig}` : ''}`"
                  ><b>{{ l.unit }}</b
                  ><small>{{ l.rig || l.kind }}</small></span
                >
                <span v-if="i < s.links.length - 1" class="hop" :class="l.way || 'nowhere'"
                  ><span class="visually-hidden">{{ SAID[l.way] ?? l.way }}</span
                  ><i aria-hidden="true">{{ SIGN[l.way] ?? l.way }}</i
                  ><small v-if="l.way === 'radio' && s.khz">{{ (s.khz / 1000).toFixed(3) }}</small
                  ><small v-else-if="l.by.length">{{ l.by.join(' ') }}</small></span
                >
              </template>
              <em v-if="!s.links.length">nothing named</em>
            </span>
            <span class="shares">
              <template v-for="(what, other) in s.shares" :key="other"
                >shares <b>{{ what.join(', ') }}</b> with {{ other }}<br
              /></template>
              <template v-if="s.whole && !Object.keys(s.shares ?? {}).length">on its own</template>
              <template v-if="!s.whole">leads nowhere</template>
            </span>
          </li>
        </ul>
      </article>

      <RadioStrip v-if="air" :job="job" :sound="sound" :air="air" :where="label(air.part)" />

      <template v-if="devices.length">
        <h2>In step</h2>
        <div class="in-step" :style="{ '--parts': view.parts.length }">
          <span></span><small v-for="p in view.parts" :key="p.id">{{ p.label }}</small>
          <template v-for="d in devices" :key="d.unit">
            <span class="device"
              ><b>{{ d.unit }}</b> <small>{{ d.rig }}</small>
              <ChoiceField
                :model-value="saidOf(d.unit)"
                :choices="METHODS"
                :aria-label="`What keeps ${d.unit} in step`"
                :commit="(method: Method) => frame.edit({ op: 'set sync', unit: d.unit, method: method || null })"
              />
            </span>
            <span v-for="p in view.parts" :key="p.id" :class="{ none: d.at.get(p.id)?.method === 'none' }">
              <template v-if="d.at.get(p.id)"
                >{{ SHORT[d.at.get(p.id)?.method ?? ''] }}
                <small>{{ d.at.get(p.id)?.by }}</small>
                <small v-if="d.at.get(p.id)?.drift_frames != null"
                  >{{ fixed(d.at.get(p.id)?.drift_frames ?? 0, 2) }} frames off, again within
                  {{ fixed(d.at.get(p.id)?.jam_again_h ?? 0, 2) }} h</small
                ></template
              >
            </span>
          </template>
        </div>
        <p v-if="guides.length" class="late-sound">
          Guide sound in {{ label(part) }} comes late:
          <span v-for="g in guides" :key="g.rig + g.voice"
            >{{ g.voice }} at {{ g.rig }} <b>{{ fixed(g.frames, 1) }}</b> frames ({{ fixed(g.far_m, 0) }} m)</span
          >
        </p>
      </template>

      <template v-if="sound.mic_ups.length">
        <h2>Microphones on people</h2>
        <details v-for="m in sound.mic_ups" :key="m.voice + m.part" class="mic-up">
          <summary>
            <b>{{ clock(m.after) }}–{{ clock(m.by) }}</b> {{ m.wearer }}
            <small
              >{{ fixed(m.minutes, 0) }} min by {{ m.mic_by || 'whoever is free'
              }}{{ m.mic_at ? `, ${m.mic_at}` : '' }}; for {{ label(m.part) }}</small
            >
          </summary>
          <ol>
            <li v-for="c in m.checks" :key="c">{{ c }}</li>
          </ol>
        </details>
      </template>
    </template>
  </section>
</template>

<style>
.source-name small {
  display: block;
  color: var(--mark);
  font-weight: 600;
}
.sound-day {
  overflow: auto;
  padding: var(--gap-6) var(--gap-7) var(--gap-9);
  scrollbar-width: thin;
}
.sound-day h2 {
  font: 600 var(--t-4) var(--text);
  padding: var(--gap-7) 0 var(--gap-3);
}
.sound-head {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
}
.sound-head h2 {
  flex: 1;
  padding: 0;
}
.sound-day h2 small {
  font-weight: 400;
  color: var(--ink-2);
}
.voice {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  gap: var(--gap-2) var(--gap-6);
  border-top: 2px solid var(--rule);
  padding: var(--gap-4) 0 var(--gap-5);
}
.voice.chosen {
  box-shadow: inset 4px 0 var(--mark);
  padding-left: var(--gap-6);
}
.voice.elsewhere .chain .link {
  border-color: var(--rule);
}
.voice .then {
  grid-column: 1 / -1;
  margin: 0;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.voice-name {
  text-align: left;
  background: none;
  border: 0;
  color: inherit;
  padding: 0;
  min-height: 34px;
}
.voice-name b {
  display: block;
  font: 700 var(--t-5) var(--text);
}
.voice-name small {
  color: var(--ink-2);
}
.voice-parts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  justify-content: flex-end;
}
.voice-parts button {
  border: 0;
  border-bottom: 3px solid var(--rule);
  background: none;
  color: var(--ink-2);
  font: 400 var(--t-3) var(--figures);
  padding: 2px var(--gap-4);
  min-height: 30px;
}
.voice-parts button b {
  font-size: var(--t-5);
}
.voice-parts button small {
  display: block;
  font: 400 var(--t-1) var(--text);
}
.voice-parts .here {
  border-bottom-color: var(--mark);
  color: var(--ink);
}
.voice-parts .short {
  background: var(--stop-wash);
  color: var(--stop);
}
.chains {
  grid-column: 1 / -1;
  list-style: none;
  margin: 0;
  padding: 0;
}
.chains li {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr) 170px;
  gap: var(--gap-6);
  align-items: center;
  padding: var(--gap-2) 0;
}
.source-name {
  font-size: var(--t-3);
  color: var(--ink-2);
}
.independent .source-name {
  color: var(--ink);
  font-weight: 600;
}
.chain {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  row-gap: var(--gap-2);
}
.chain .link {
  border: 1.5px solid var(--ink-3);
  border-radius: 3px;
  padding: 1px var(--gap-4);
  background: var(--sheet);
  line-height: 1.15;
}
.independent .chain .link {
  border-color: var(--mark);
}
.chain .link b {
  font: 600 var(--t-2) var(--figures);
  display: block;
}
.chain .link small,
.chain .hop small {
  font-size: var(--t-1);
  color: var(--ink-2);
}
.chain .hop {
  display: grid;
  justify-items: center;
  min-width: 30px;
  padding: 0 2px;
  line-height: 1;
}
.chain .hop i {
  font: 400 var(--t-2) / 1 var(--figures);
  letter-spacing: -0.05em;
}
.chain .hop.radio i {
  color: var(--mark);
  font-weight: 700;
}
.chain .hop.nowhere i {
  color: var(--stop);
  font-size: var(--t-5);
}
.chain .link.desk {
  border-style: double;
  border-width: 4px;
}
.broken .chain .link {
  border-style: dashed;
}
.shares {
  font-size: var(--t-2);
  color: var(--ink-2);
}
.shares b,
.broken .shares {
  color: var(--stop);
  font-weight: 600;
}
.in-step {
  display: grid;
  grid-template-columns: minmax(110px, 1.2fr) repeat(var(--parts), minmax(74px, 1fr));
  font-size: var(--t-3);
  overflow-x: auto;
}
.in-step > * {
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-2) var(--gap-3);
}
.in-step small {
  display: block;
  color: var(--ink-2);
  font-size: var(--t-1);
  font-weight: 400;
}
.in-step .device b {
  font-family: var(--figures);
}
.in-step .device small {
  display: inline;
}
.in-step .form-select {
  min-height: 26px;
  padding: 0 var(--gap-8) 0 var(--gap-3);
  font-size: var(--t-2);
}
.in-step .none {
  color: var(--watch);
  font-weight: 600;
}
.late-sound {
  font-size: var(--t-3);
  padding-top: var(--gap-4);
}
.late-sound span:not(:last-child)::after {
  content: '; ';
}
.mic-up {
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-3) 0;
}
.mic-up summary {
  min-height: 30px;
}
.mic-up summary b {
  font: 600 var(--t-4) var(--figures);
  padding-right: var(--gap-5);
}
.mic-up summary small {
  color: var(--ink-2);
}
.mic-up ol {
  margin: 0;
  font-size: var(--t-3);
}
@media (max-width: 760px) {
  .chains li {
    grid-template-columns: 1fr;
    gap: var(--gap-1);
    padding: var(--gap-4) 0;
  }
  .voice {
    grid-template-columns: 1fr;
  }
  .voice-parts {
    justify-content: flex-start;
  }
  .voice-parts button {
    min-height: 44px;
  }
}
</style>
