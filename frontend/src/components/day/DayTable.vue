<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DayView } from '../../api/schema.gen'
import { clock, counted, fixed, weekday } from '../../lib/format'
import CountMarks from '../frame/CountMarks.vue'
import LevelMark from '../frame/LevelMark.vue'

/** Cameras or people against the parts of the day, to scale; between two cells what it takes to get from one to the other. */
const props = defineProps<{
  view: DayView
  part: string
  rig: string
  shows: 'cameras' | 'people' | 'cards'
  sheet: boolean
}>()
const emit = defineEmits<{
  cell: [part: string, rig: string]
  change: [part: string, rig: string]
  key: [key: string]
}>()
const table = ref<HTMLElement | null>(null)

type Part = DayView['parts'][number]
const weight = (p: Part): number => Math.max(1, (Date.parse(p.ends) - Date.parse(p.starts)) / 3_600_000)
const gapMin = (i: number): number => {
  const [one, other] = [props.view.parts[i], props.view.parts[i + 1]]
  return one && other ? (Date.parse(other.starts) - Date.parse(one.ends)) / 60_000 : 0
}
const columns = computed(() =>
  props.view.parts
    .map(
      (p, i) =>
        `minmax(86px, ${fixed(weight(p), 2)}fr)${i < props.view.parts.length - 1 ? (props.shows === 'cameras' ? ' 58px' : ' 10px') : ''}`,
    )
    .join(' '),
)
const cell = (part: string, rig: string) => props.view.cells.find((c) => c.part === part && c.rig === rig)
const lines = (part: string, rig: string) => props.view.cards.filter((c) => c.part === part && c.rig === rig)
const SCHEMES: Record<string, string> = { single: 'in one slot', mirrored: 'in both slots', relay: 'in relay' }
/** A change stands before the part it leads to; a camera that was not there in between comes from further back. */
/** What of a camera is not there. */
const lacks = (part: string, rig: string): readonly string[] =>
  props.view.findings.find((f) => f.code === 'day.short' && f.units[0] === `${rig} ${part}`)?.units.slice(1) ?? []
const change = (part: string, rig: string) => props.view.changes.find((c) => c.after === part && c.rig === rig)
const moments = (p: Part) =>
  p.moments.map((m) => ({
    at: ((Date.parse(m.at) - Date.parse(p.starts)) / (Date.parse(p.ends) - Date.parse(p.starts))) * 100,
    label: `${clock(m.at)} ${m.label}`,
  }))
const newDay = (i: number): boolean =>
  i === 0 || props.view.parts[i - 1]?.starts.slice(0, 10) !== props.view.parts[i]?.starts.slice(0, 10)
const long = (min: number): string => (min >= 120 ? `${fixed(min / 60, 0)} h` : `${fixed(min, 0)} min`)
/** In the narrow column, under a head that says what it is in. */
const short = (min: number): string => (min >= 120 ? `${fixed(min / 60, 0)} h` : fixed(min, 0))
/** How full the gap is; what does not fit sticks out. */
const full = (c: NonNullable<ReturnType<typeof change>>): number =>
  c.gap_min > 0 ? Math.min(100, (c.alone_min / c.gap_min) * 100) : 100
const spoken = (c: NonNullable<ReturnType<typeof change>>): string =>
  c.same ? 'stays as it is' : `${fixed(c.alone_min, 1)} min, with two ${fixed(c.two_min, 1)}, of ${long(c.gap_min)}`

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function press(event: KeyboardEvent): void {
  const step = STEPS[event.key]
  if (!step) {
    if (['c', 'v', 'Delete', 'x', 'Enter'].includes(event.key) && !event.ctrlKey && !event.metaKey) {
      if (event.key === 'Enter' && (event.target as HTMLElement).dataset.change) return
      event.preventDefault()
      emit('key', event.key)
    }
    return
  }
  event.preventDefault()
  const at = props.view.parts.findIndex((p) => p.id === props.part)
  const row = props.view.rigs.findIndex((r) => r.id === props.rig)
  const part = props.view.parts[Math.min(Math.max(at + step[0], 0), props.view.parts.length - 1)]
  const rig = props.view.rigs[Math.min(Math.max(row + step[1], 0), props.view.rigs.length - 1)]
  if (!part || !rig) return
  emit('cell', part.id, rig.id)
  table.value?.querySelector<HTMLElement>(`[data-cell="${part.id}/${rig.id}"]`)?.focus()
}
</script>

<template>
  <div class="day-table" :tabindex="shows === 'cameras' ? undefined : 0">
    <div ref="table" role="table" aria-label="The day" :style="{ '--columns': columns }">
      <div role="row" class="day-head">
        <span role="columnheader" class="who">{{ shows === 'people' ? 'Who' : 'Camera' }}</span>
        <template v-for="(p, i) in view.parts" :key="p.id">
          <span role="columnheader" class="part-head" :class="{ here: p.id === part }">
            <small>{{ newDay(i) ? `${weekday(p.starts)} ` : '' }}{{ clock(p.starts) }}–{{ clock(p.ends) }}</small>
            <b>{{ p.label }}</b>
            <i
              v-for="m in moments(p)"
              :key="m.label"
              :style="{ left: `${m.at}%` }"
              :title="m.label"
              role="img"
              :aria-label="`Once only: ${m.label}`"
            ></i>
          </span>
          <span v-if="i < view.parts.length - 1" class="gap-head" aria-hidden="true">{{
            shows === 'cameras' ? long(gapMin(i)) : ''
          }}</span>
        </template>
      </div>
      <template v-if="shows === 'cameras'">
        <div v-for="r in view.rigs" :key="r.id" role="row" class="day-row" @keydown="press">
          <span role="rowheader" class="who"
            ><b>{{ r.number }}</b
            ><span
              >{{ r.label }}<small>{{ r.position }}</small></span
            ></span
          >
          <template v-for="(p, i) in view.parts" :key="p.id">
            <span v-if="i > 0" role="cell" class="between">
              <button
                v-if="change(p.id, r.id)"
                type="button"
                :data-change="`${p.id}/${r.id}`"
                :class="[
                  change(p.id, r.id)!.same ? 'same' : change(p.id, r.id)!.fits.replace(' ', '-'),
                  { open: sheet && p.id === part && r.id === rig },
                ]"
                :aria-label="`Change of ${r.label} for ${p.label}: ${spoken(change(p.id, r.id)!)}`"
                @click="emit('change', p.id, r.id)"
              >
                <template v-if="change(p.id, r.id)!.same"><i class="on"></i></template>
                <template v-else>
                  <b>{{ fixed(change(p.id, r.id)!.alone_min, 1) }}</b>
                  <span class="bar"><i :style="{ width: `${full(change(p.id, r.id)!)}%` }"></i></span>
                  <small>of {{ short(change(p.id, r.id)!.gap_min) }}</small>
                </template>
              </button>
            </span>
            <span role="cell" class="cell-of">
              <button
                type="button"
                class="day-cell"
                :data-cell="`${p.id}/${r.id}`"
                :tabindex="p.id === part && r.id === rig ? 0 : -1"
                :class="{
                  chosen: p.id === part && r.id === rig,
                  out: !cell(p.id, r.id),
                  stop: (cell(p.id, r.id)?.counts.stops ?? 0) > 0 || lacks(p.id, r.id).length > 0,
                }"
                :aria-label="`${r.label} in ${p.label}`"
                @click="emit('cell', p.id, r.id)"
              >
                <small class="narrow">{{ p.label }}</small>
                <template v-if="cell(p.id, r.id)">
                  <b>{{ cell(p.id, r.id)!.label }}</b>
                  <span>{{ cell(p.id, r.id)!.lens }}</span>
                  <span class="by" :class="{ nobody: cell(p.id, r.id)!.unattended }">{{
                    cell(p.id, r.id)!.unattended ? 'unattended' : cell(p.id, r.id)!.operator || 'nobody named'
                  }}</span>
                  <span v-if="cell(p.id, r.id)!.spotter" class="by">{{ cell(p.id, r.id)!.spotter }} spots</span>
                  <span v-if="lacks(p.id, r.id).length" class="lacking">no {{ lacks(p.id, r.id).join(', ') }}</span>
                  <CountMarks :counts="cell(p.id, r.id)!.counts" />
                </template>
                <span v-else>not there</span>
              </button>
            </span>
          </template>
        </div>
      </template>
      <template v-else-if="shows === 'cards'">
        <div v-for="r in view.rigs" :key="r.id" role="row" class="day-row cards">
          <span role="rowheader" class="who"
            ><b>{{ r.number }}</b
            ><span>{{ r.label }}</span></span
          >
          <template v-for="(p, i) in view.parts" :key="p.id">
            <span v-if="i > 0" class="between"></span>
            <span
              role="cell"
              class="day-cell"
              :class="{
                out: !lines(p.id, r.id).length,
                stop: lines(p.id, r.id).some((l) => l.pieces.some((x) => !x.card)),
              }"
            >
              <small class="narrow">{{ p.label }}</small>
              <template v-for="l in lines(p.id, r.id)" :key="l.unit">
                <b>{{ l.mode }}</b>
                <span>{{ fixed(l.gb, 0) }} GB {{ SCHEMES[l.scheme] }}</span>
                <span v-for="(x, n) in l.pieces" :key="n" class="card" :class="{ missing: !x.card }">
                  <span>{{ x.card ?? 'no card' }}</span>
                  <i role="img" :aria-label="x.card ? `${fixed(x.share * 100, 0)} % full` : 'missing'"
                    ><u :style="{ width: `${fixed(Math.min(1, x.share) * 100, 0)}%` }"></u
                  ></i>
                </span>
                <span v-for="at in l.changes" :key="at" class="twice">change at {{ clock(at) }}</span>
              </template>
              <span v-if="!lines(p.id, r.id).length">{{ cell(p.id, r.id) ? 'no slot known' : 'not there' }}</span>
            </span>
          </template>
        </div>
        <p v-for="c in view.copies" :key="c.day" class="copies">
          <b>Copies of {{ weekday(c.day) }}</b>
          {{ fixed(c.gb, 0) }} GB in three places,
          <template v-if="c.ready"
            >{{ fixed(c.minutes / 60, 1) }} h on {{ counted(c.readers, 'reader bay') }}, ready {{ weekday(c.ready) }}
            {{ clock(c.ready) }};
          </template>
          <template v-else>no reader or drive for all of it; </template>
          {{ fixed(c.wanted_gb / 1000, 1) }} of {{ fixed(c.drive_gb / 1000, 1) }} TB of drives
        </p>
      </template>
      <template v-else>
        <div v-for="who in view.people" :key="who.name" role="row" class="day-row people">
          <span role="rowheader" class="who"
            ><span>{{ who.name }}</span></span
          >
          <template v-for="(p, i) in view.parts" :key="p.id">
            <span v-if="i > 0" class="between"></span>
            <span role="cell" class="day-cell" :class="{ out: !who.at[p.id], stop: (who.at[p.id]?.length ?? 0) > 1 }">
              <small class="narrow">{{ p.label }}</small>
              <b v-for="camera in who.at[p.id] ?? []" :key="camera">{{ camera }}</b>
              <span v-if="(who.at[p.id]?.length ?? 0) > 1" class="twice"
                ><LevelMark level="stop" :size="13" /> two places</span
              >
              <span v-if="!who.at[p.id]">free</span>
            </span>
          </template>
        </div>
        <p v-if="!view.people.length" class="quiet">Nobody is named yet. Choose a cell and say who works the camera.</p>
      </template>
    </div>
    <section v-if="shows === 'cards' && view.looks.length" class="looks" aria-label="A look in the break">
      <h2>A look in the break</h2>
      <p
        v-for="x in view.looks"
        :key="x.part + x.rig"
        :class="{ none: x.first_min === null || x.first_min > x.gap_min }"
      >
        <span>after {{ view.parts.find((p) => p.id === x.part)?.label }}</span>
        <b>{{ x.rig }}</b>
        <span
          >{{ x.cards.join(', ') }} {{ x.straight ? 'straight away, the other side stays safe' : 'copied first' }}</span
        >
        <span class="first">{{
          x.first_min === null
            ? 'no reader for it'
            : `${fixed(x.first_min, 0)} min to the first picture, of ${long(x.gap_min)}`
        }}</span>
      </p>
    </section>
    <section v-if="shows === 'cameras' && view.moments.length" class="moments" aria-label="What happens once">
      <h2>Once only</h2>
      <p v-for="m in view.moments" :key="m.at + m.label" :class="{ none: m.thing && m.angles.length < 2 }">
        <time>{{ clock(m.at) }}</time>
        <b>{{ m.label }}</b>
        <span v-if="!m.thing">not said what it is about: choose it under Job</span>
        <template v-else>
          <small>{{ m.thing }}</small>
          <span v-for="(a, n) in m.angles" :key="a.rig"
            >{{ n === 0 ? 'first' : n === 1 ? 'then' : 'also' }} <b>{{ a.label }}</b><small
              >{{ a.wide_m === null ? '' : ` ${fixed(a.wide_m, 1)} m wide` }}{{ a.locked ? ', still' : '' }}</small
            ></span
          >
          <span v-if="!m.angles.length" class="twice">no camera</span>
          <span v-if="m.angles.length === 1" class="twice">nothing stands in</span>
          <span v-if="m.hidden.length">hidden from {{ m.hidden.join(', ') }}</span>
        </template>
      </p>
    </section>
  </div>
</template>

<style>
.looks h2 {
  font: 600 var(--t-4) var(--text);
  padding-top: var(--gap-7);
}
.looks p {
  display: grid;
  grid-template-columns: 150px 110px minmax(0, 1fr) auto;
  gap: var(--gap-5);
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-3) 0;
  font-size: var(--t-3);
}
.looks .none .first {
  color: var(--stop);
}
@media (max-width: 760px) {
  .looks p {
    grid-template-columns: 1fr auto;
  }
}
.day-table {
  min-width: 0;
  overflow: auto;
  scrollbar-width: thin;
  padding: 0 var(--gap-7) var(--gap-8);
}
.day-head,
.day-row {
  display: grid;
  grid-template-columns: 112px var(--columns);
  align-items: stretch;
}
.day-head {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--sheet);
  padding-top: var(--gap-5);
}
.part-head {
  position: relative;
  border-top: 4px solid var(--rule);
  padding: var(--gap-3) var(--gap-4) var(--gap-4);
}
.part-head.here {
  border-top-color: var(--mark);
}
.part-head small {
  display: block;
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
}
.part-head i {
  position: absolute;
  top: -7px;
  width: 4px;
  height: 11px;
  background: var(--ink);
}
.gap-head {
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-3);
  text-align: center;
  padding-top: var(--gap-5);
}
.day-head > .who {
  font-size: var(--t-2);
  color: var(--ink-3);
  padding-top: var(--gap-5);
}
.day-row {
  border-top: 1px solid var(--rule);
  padding: var(--gap-4) 0;
}
.day-row > .who {
  display: flex;
  gap: var(--gap-5);
  align-items: baseline;
  padding: var(--gap-4) var(--gap-4) 0 0;
  font-weight: 600;
}
.day-row > .who > b {
  font: 700 var(--t-6) var(--figures);
  color: var(--ink-2);
}
.day-row > .who small {
  display: block;
  font-weight: 400;
  font-size: var(--t-2);
  color: var(--ink-3);
}
.cell-of {
  display: grid;
}
.day-cell {
  display: grid;
  align-content: start;
  gap: 1px;
  min-height: 92px;
  text-align: left;
  background: var(--lift);
  border: 1px solid var(--rule-2);
  border-left: 4px solid var(--rule);
  padding: var(--gap-4) var(--gap-5);
  font-size: var(--t-3);
  overflow: hidden;
}
.day-cell .narrow {
  display: none;
}
.day-cell b {
  font-size: var(--t-4);
  overflow: hidden;
  text-overflow: ellipsis;
}
.day-cell span {
  color: var(--ink-2);
}
.day-cell .by.nobody {
  font-weight: 600;
  color: var(--ink);
}
.day-cell.stop {
  border-left-color: var(--stop);
}
.day-cell.out {
  background: transparent;
  border-style: dashed;
  color: var(--ink-3);
}
.day-cell.chosen {
  outline: 3px solid var(--mark);
  outline-offset: -2px;
}
.people .day-cell {
  min-height: 54px;
}
.day-cell .twice {
  color: var(--stop);
  font-weight: 600;
}
.day-cell .card {
  display: grid;
  grid-template-columns: auto minmax(20px, 1fr);
  gap: var(--gap-3);
  align-items: center;
  font: 400 var(--t-2) var(--figures);
  white-space: nowrap;
}
.day-cell .card i {
  height: 7px;
  background: var(--rule-2);
}
.day-cell .card u {
  display: block;
  height: 100%;
  background: var(--mark);
}
.day-cell .missing {
  color: var(--stop);
  font-weight: 700;
}
.day-cell .missing i {
  background: repeating-linear-gradient(135deg, var(--stop) 0 4px, var(--stop-wash) 4px 7px);
}
.moments h2 {
  font: 600 var(--t-4) var(--text);
  padding-top: var(--gap-6);
}
.moments p {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-6);
  align-items: baseline;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
  font-size: var(--t-3);
}
.moments time {
  font: 700 var(--t-3) var(--figures);
}
.moments small {
  color: var(--ink-2);
}
.moments .twice {
  color: var(--stop);
  font-weight: 600;
}
.copies {
  border-top: 1px solid var(--rule);
  padding: var(--gap-5) 0;
  font-size: var(--t-3);
}
.between {
  display: grid;
  align-items: center;
  padding: 0 var(--gap-2);
}
.between button {
  display: grid;
  gap: var(--gap-1);
  justify-items: stretch;
  text-align: center;
  padding: var(--gap-3) var(--gap-1);
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
  min-height: 44px;
  align-content: center;
}
.between button:hover,
.between button.open {
  background: var(--mark-wash);
}
.between b {
  font: 700 var(--t-4) var(--figures);
  color: var(--ink);
}
.between .bar {
  height: 6px;
  background: var(--rule-2);
  display: block;
}
.between .bar i {
  display: block;
  height: 100%;
  min-width: 2px;
  background: var(--ink-3);
}
.between .tight .bar i {
  background: var(--note);
}
.between .with-two .bar i {
  background: var(--watch);
}
.between .with-two b {
  color: var(--watch);
}
.between .no .bar {
  outline: 1px solid var(--stop);
}
.between .no .bar i {
  background: repeating-linear-gradient(135deg, var(--stop) 0 4px, var(--stop-wash) 4px 7px);
}
.between .no b,
.between .no small {
  color: var(--stop);
}
.between .same .on {
  display: block;
  border-top: 2px solid var(--rule);
  margin: 0 var(--gap-3);
}
@media (max-width: 760px) {
  .day-table {
    overflow: visible;
    padding: 0 var(--gap-6) var(--gap-8);
  }
  .day-head {
    display: none;
  }
  .day-row {
    display: block;
    padding: var(--gap-6) 0;
  }
  .day-cell {
    width: 100%;
    min-height: 56px;
    grid-template-columns: 1fr 1fr;
    column-gap: var(--gap-5);
  }
  .day-cell .narrow {
    display: block;
    grid-column: 1 / -1;
    color: var(--ink-3);
  }
  .between button {
    width: 100%;
    grid-template-columns: auto 1fr auto;
    align-items: center;
    gap: var(--gap-5);
    font-size: var(--t-3);
  }
  .between .same {
    min-height: 28px;
    grid-template-columns: 1fr;
    padding: 0;
  }
}
.day-cell .lacking {
  color: var(--stop);
  font: 600 var(--t-2) var(--figures);
}
</style>
