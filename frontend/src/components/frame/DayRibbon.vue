<script setup lang="ts">
import { computed, ref } from 'vue'
import { useShownChoice } from '../../composables/useShownChoice'
import { clock, weekday } from '../../lib/format'
import { useJob } from '../../stores/job'

const store = useJob()
const row = ref<HTMLElement | null>(null)
useShownChoice(row)
const emit = defineEmits<{ choose: [part: string] }>()

interface Segment {
  id: string
  label: string
  day: string | null
  weight: number
  gap: number
  hours: string
  air: string
  moments: { at: number; label: string }[]
}

/** Parts of the day to scale; the idle hours between them shrink to a gap, a night to a wider one. */
const segments = computed<Segment[]>(() => {
  const parts = store.job?.parts ?? []
  return parts.map((part, i) => {
    const [from, to] = [Date.parse(part.starts), Date.parse(part.ends)]
    const before = parts[i - 1]
    const newDay = !before || before.starts.slice(0, 10) !== part.starts.slice(0, 10)
    return {
      id: part.id,
      label: part.label,
      day: newDay ? weekday(part.starts) : null,
      weight: to - from,
      gap: newDay ? 0 : Date.parse(before.ends) === from ? 2 : 8,
      hours: `${clock(part.starts)}–${clock(part.ends)}`,
      air: `${part.temperature_c} °C  ${part.wind_m_s} m/s`,
      moments: part.moments.map((m) => ({
        at: ((Date.parse(m.at) - from) / (to - from)) * 100,
        label: `${clock(m.at)} ${m.label}`,
      })),
    }
  })
})
</script>

<template>
  <nav class="ribbon" aria-label="Parts of the day">
    <div ref="row" class="parts" role="radiogroup" aria-label="Part of the day">
      <template v-for="s in segments" :key="s.id">
        <span v-if="s.day" class="day">{{ s.day }}</span>
        <button
          type="button"
          class="part"
          role="radio"
          :aria-checked="s.id === store.partId"
          :class="{ chosen: s.id === store.partId }"
          :style="{ flexGrow: s.weight, marginLeft: `${s.gap}px` }"
          :title="[s.hours, ...s.moments.map((m) => m.label)].join('\n')"
          @click="emit('choose', s.id)"
        >
          <span class="when">{{ s.hours }}</span>
          <span class="name">{{ s.label }}</span>
          <span class="air">{{ s.air }}</span>
          <span
            v-for="m in s.moments"
            :key="m.label"
            class="moment"
            :style="{ left: `${m.at}%` }"
            :aria-label="`Once only: ${m.label}`"
          ></span>
        </button>
      </template>
    </div>
    <!-- Its line is kept where there is none, so that nothing below moves from part to part. -->
    <p class="once">
      <span v-if="store.part?.moments.length" class="tick" aria-hidden="true"></span>
      <span v-for="m in store.part?.moments ?? []" :key="m.at">{{ clock(m.at) }} {{ m.label }}</span>
    </p>
  </nav>
</template>

<style>
.ribbon {
  flex: 1;
  min-width: 0;
}
.parts {
  display: flex;
  align-items: stretch;
  min-height: 59.5px;
}
.part .when,
.part .air {
  font: 400 var(--t-1)/1.3 var(--figures);
  color: var(--ink-2);
  letter-spacing: -0.02em;
}
.part.chosen .when,
.part.chosen .air {
  color: inherit;
  opacity: 0.82;
}
.day {
  flex: none;
  width: 46px;
  padding: var(--gap-3) var(--gap-4) 0 var(--gap-6);
  font-size: var(--t-2);
  line-height: 1.2;
  font-weight: 600;
  color: var(--ink-2);
  text-align: right;
}
.day:first-child {
  padding-left: 0;
}
.moment {
  position: absolute;
  top: -4px;
  width: 4px;
  height: 11px;
  background: var(--ink);
  margin-left: -2px;
}
.part.chosen .moment {
  background: var(--lift);
  outline: 1px solid var(--ink);
}
html[data-appearance='night'] .moment,
html[data-appearance='night'] .part.chosen .moment {
  background: #dcb98a;
  outline: 0;
}
.once {
  display: flex;
  gap: var(--gap-5);
  font-size: var(--t-2);
  color: var(--ink-2);
  align-items: center;
  padding-top: var(--gap-1);
  min-height: 18px;
  justify-content: flex-end;
}
.once .tick {
  width: 4px;
  height: 11px;
  background: var(--ink);
}
html[data-appearance='night'] .once .tick {
  background: #dcb98a;
}
@media (max-width: 760px) {
  .parts {
    overflow-x: auto;
    scrollbar-width: none;
    min-height: 62.5px;
  }
}
</style>
