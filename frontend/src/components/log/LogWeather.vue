<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { ref, watch } from 'vue'
import { readWeather } from '../../api'
import type { LogWeatherView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { fixed } from '../../lib/format'
import LevelMark from '../frame/LevelMark.vue'

/** The weather as it is against the weather as it was planned, and what falls with it. */
const props = defineProps<{ job: string; part: string; may: boolean; busy: boolean }>()
const emit = defineEmits<{ note: [readings: { what: string; value: number }[]] }>()
const { found, problem, loading, load } = useLoad<LogWeatherView>([])
const typing = ref(false)
const form = ref({ air: '', wind: '', gust: '', lux: '' })
const read = (): Promise<unknown> => load(() => readWeather(props.job, props.part, null))
function typed(): void {
  const number = (text: string): number | undefined => (text.trim() === '' ? undefined : Number(text.replace(',', '.')))
  const given = Object.entries(form.value).flatMap(([key, text]) => {
    const value = number(text)
    return value === undefined ? [] : [[key, value] as const]
  })
  void load(() => readWeather(props.job, props.part, Object.fromEntries(given)))
}
watch(
  () => [props.job, props.part],
  () => (typing.value ? undefined : void read()),
  { immediate: true },
)
function note(): void {
  const w = found.value
  if (!w) return
  const said: { what: string; value: number }[] = []
  if (w.air_c !== null) said.push({ what: '°C', value: w.air_c })
  if (w.wind_m_s !== null) said.push({ what: 'm/s', value: w.wind_m_s })
  if (w.ev !== null) said.push({ what: 'EV', value: Number(w.ev.toFixed(1)) })
  emit('note', said)
}
const LEVELS = { stop: 'stop', watch: 'watch', note: 'note', clear: 'clear' } as const
</script>

<template>
  <section class="log-weather" aria-label="Weather">
    <h2>
      Weather <small v-if="found?.station">{{ found.station }}</small>
    </h2>
    <div v-if="found" class="gauges">
      <p>
        <strong>{{ found.air_c === null ? '–' : fixed(found.air_c, 1) }}<small>°C</small></strong>
        planned {{ fixed(found.planned_c, 0) }} °C
      </p>
      <p>
        <strong>{{ found.wind_m_s === null ? '–' : fixed(found.wind_m_s, 1) }}<small>m/s</small></strong>
        planned {{ fixed(found.planned_m_s, 0) }} m/s<template v-if="found.gust_m_s !== null"
          >, gusts {{ fixed(found.gust_m_s, 1) }}</template
        >
      </p>
      <p>
        <strong>{{ found.ev === null ? '–' : fixed(found.ev, 1) }}<small>EV</small></strong>
        {{ found.planned_ev === null ? 'no light planned' : `planned EV ${fixed(found.planned_ev, 1)}`
        }}<template v-if="found.lux !== null">, {{ fixed(found.lux, 0) }} lx</template>
      </p>
    </div>
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="loading && !found" class="quiet">Reading the station…</p>
    <ul v-if="found" class="weather-lines">
      <li v-for="f in found.findings" :key="f.code"><LevelMark :level="LEVELS[f.level]" /> {{ f.text }}</li>
      <li v-if="!found.findings.length">Not worse than planned.</li>
    </ul>
    <template v-if="found">
      <h3>What falls with it</h3>
      <ul class="weather-lines">
        <template v-for="x in found.falls" :key="x.rig">
          <li v-for="f in x.findings" :key="x.rig + f.code + f.text">
            <LevelMark :level="LEVELS[f.level]" /> <b>{{ x.label }}</b> {{ f.text }}
          </li>
        </template>
        <li v-if="found.falls.every((x) => !x.findings.length)">Nothing: every camera stands as it was planned.</li>
      </ul>
    </template>
    <form v-if="typing" class="weather-typed" @submit.prevent="typed">
      <label>°C <BFormInput v-model="form.air" inputmode="decimal" aria-label="Air, °C" /></label>
      <label>m/s <BFormInput v-model="form.wind" inputmode="decimal" aria-label="Wind, m/s" /></label>
      <label>gust <BFormInput v-model="form.gust" inputmode="decimal" aria-label="Gust, m/s" /></label>
      <label>lux <BFormInput v-model="form.lux" inputmode="decimal" aria-label="Light, lux" /></label>
      <BButton type="submit" variant="primary">Compare</BButton>
    </form>
    <div class="weather-acts">
      <BButton size="sm" :disabled="loading" @click="((typing = false), void read())">Read the station</BButton>
      <BButton size="sm" :aria-pressed="typing" @click="typing = !typing">Type it</BButton>
      <BButton v-if="may && found" size="sm" :disabled="busy" @click="note">Note it</BButton>
    </div>
  </section>
</template>

<style>
.log-weather {
  padding: var(--gap-6) var(--gap-7);
  border-bottom: 1px solid var(--rule);
}
.log-weather h2 {
  font: 700 var(--t-5) var(--text);
}
.log-weather h2 small {
  color: var(--ink-3);
  font-weight: 400;
}
.log-weather h3 {
  font: 700 var(--t-4) var(--text);
  color: var(--ink);
  padding: 0;
  margin: var(--gap-5) 0 var(--gap-2);
}
.gauges {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: var(--gap-6);
}
.gauges p {
  margin: 0 0 var(--gap-4);
  color: var(--ink-3);
  font-size: var(--t-2);
}
.gauges strong {
  display: block;
  font: 700 var(--t-7) var(--figures);
  color: var(--ink);
}
.gauges strong small {
  font-size: var(--t-3);
  margin-left: var(--gap-2);
}
.weather-lines {
  list-style: none;
  padding: 0;
  margin-bottom: var(--gap-4);
  font-size: var(--t-3);
}
.weather-typed {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: var(--gap-4);
  margin-bottom: var(--gap-4);
}
.weather-typed .btn {
  grid-column: 1 / -1;
}
.weather-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
</style>
