<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { readLenses } from '../api'
import type { PairsView, PairView } from '../api/schema.gen'
import PackagePanel from '../components/bench/PackagePanel.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { counted, fixed, grams, signed } from '../lib/format'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const { found, problem, load } = useLoad<PairsView>(['build', 'job', 'jobs', 'shelf'])
const body = ref('')

watch(
  () => [props.job, props.part, props.rig, body.value] as const,
  ([job, part, rig, model]) => load(() => readLenses({ job, part, rig }, model)),
  { immediate: true },
)
watch(
  () => props.rig,
  () => {
    body.value = ''
  },
)

const MARKS = [100, 60, 40, 25, 15, 10, 6, 4] as const
/** Where an angle stands on the sheet, wide at the left, by its logarithm; the ends leave room. */
const [WIDE, NARROW] = [120, 3.4]
const at = (deg: number): number =>
  ((Math.log(WIDE) - Math.log(Math.min(Math.max(deg, NARROW), WIDE))) / (Math.log(WIDE) - Math.log(NARROW))) * 100
const bar = (p: PairView) =>
  p.angles_deg && {
    left: `${String(at(p.angles_deg[0]))}%`,
    width: `${String(Math.max(at(p.angles_deg[1]) - at(p.angles_deg[0]), 0.6))}%`,
  }
const state = (p: PairView): string =>
  p.join === 'no' || p.join === 'to hire' || !p.area ? 'no' : p.full ? 'whole' : 'some'
const focal = (f: readonly [number, number]): string =>
  Math.abs(f[0] - f[1]) < 0.5 ? fixed(f[0], 0) : `${fixed(f[0], 0)}–${fixed(f[1], 0)}`
const wide = (w: readonly [number, number]): string =>
  Math.abs(w[0] - w[1]) < 0.005 ? fixed(w[0], 2) : `${fixed(w[0], 2)} to ${fixed(w[1], 2)}`
const ALL = '*'
/** Aperture at both ends, and how dark a scene it still exposes against the light there is. */
const opening = (p: PairView): string => {
  const [near, far] = p.t_stops
  return `${p.t_known ? 'T' : 'f/'}${fixed(near, 1)}${far - near > 0.05 ? ` to ${fixed(far, 1)}` : ''}`
}
function dark(p: PairView): { text: string; short: boolean } | null {
  if (!p.darkest_ev) return null
  const [near, far] = p.darkest_ev
  const light = found.value?.light_ev ?? null
  const ends = far - near > 0.05 ? `${fixed(near, 1)} to ${fixed(far, 1)}` : fixed(near, 1)
  if (light === null) return { text: `down to EV ${ends}`, short: false }
  const room = light - far
  return room < 0
    ? { text: `down to EV ${ends}, ${fixed(-room, 1)} stops short`, short: true }
    : { text: `down to EV ${ends}, ${fixed(room, 1)} stops in hand`, short: false }
}
const gain = ([least, most]: readonly [number, number]): string =>
  most - least < 0.05
    ? `${signed(least, 1)} stops of light`
    : `${signed(least, 1)} to ${signed(most, 1)} stops of light`
const JOINS = { straight: 'joins with', adapter: 'through', 'to hire': 'only with', no: 'does not join' } as const
const need = computed(() => (found.value?.needed_deg == null ? null : at(found.value.needed_deg)))
const keys: KeyLine[] = [
  { keys: 'Escape', does: 'back to the Bench', run: () => router.push({ name: 'bench', params: { ...props } }) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="lenses" :keys="keys" :findables="() => []">
    <main class="lenses">
      <p v-if="problem" class="trouble">{{ problem.message }}</p>
      <template v-else-if="found">
        <header class="lenses-head">
          <h1>
            Every lens on <span>{{ found.body_title }}</span>
          </h1>
          <p v-if="found.distance_m !== null">
            from {{ fixed(found.distance_m, 1) }} m<template v-if="found.width_m !== null"
              >, {{ fixed(found.width_m, 1) }} m must fit in: {{ fixed(found.needed_deg ?? 0, 1) }}°</template
            >
          </p>
          <BButton
            v-for="b in found.bodies"
            :key="b.id ?? ''"
            :aria-pressed="b.id === found.body"
            @click="body = b.id ?? ''"
          >
            {{ b.title }}
          </BButton>
          <BButton :aria-pressed="found.body === ALL" @click="body = ALL">Whole package</BButton>
          <BLink class="btn btn-secondary" :to="{ name: 'bench', params: { job, part, rig } }">Bench</BLink>
        </header>
        <section v-if="found.plates.length" class="plates" aria-label="Mount plates">
          <p v-for="m in found.plates" :key="m.title" :class="{ on: m.on }">
            <b>{{ m.title }}</b>
            <span>{{ m.on ? 'on now' : 'instead' }} · {{ m.units.join(', ') }}</span>
            <template v-if="!m.on">
              <span v-if="m.opens.length">opens {{ m.opens.join(', ') }}</span>
              <span v-if="m.closes.length" class="closes">closes {{ m.closes.join(', ') }}</span>
              <span v-if="!m.opens.length && !m.closes.length">the same lenses join</span>
            </template>
          </p>
        </section>
        <div class="lens-axis" aria-hidden="true">
          <span class="who"></span
          ><span class="scale"
            ><i v-for="m in MARKS" :key="m" :style="{ left: `${at(m)}%` }">{{ m }}°</i></span
          ><span class="facts"></span>
        </div>
        <div v-for="p in found.pairs" :key="`${p.body} ${p.lens}`" class="lens-row">
          <span class="who">
            <b>{{ p.title }}</b>
            <small v-if="found.body === ALL">on {{ p.body_title }}</small>
            <small :class="{ stop: p.join === 'no', watch: p.join === 'to hire' }">{{
              p.join === 'straight' && !p.through ? 'joins as it is' : `${JOINS[p.join]} ${p.through ?? ''}`
            }}</small>
            <small v-if="p.loses.length">loses {{ p.loses.join(', ') }}</small>
            <small :class="{ stop: !p.area }"
              >{{ p.area ? `covers ${p.area}${p.full ? '' : ', not all'}` : 'covers no recorded area' }} ·
              {{ p.free.length ? `free: ${p.free.join(', ')}` : `none free of ${String(p.units.length)}` }}</small
            >
          </span>
          <span
            class="span"
            role="img"
            :aria-label="
              p.angles_deg ? `${fixed(p.angles_deg[0], 1)} to ${fixed(p.angles_deg[1], 1)} degrees` : 'no picture'
            "
          >
            <span
              v-for="g in found.gaps_deg"
              :key="g[0]"
              class="gap"
              :style="{ left: `${at(g[0])}%`, width: `${at(g[1]) - at(g[0])}%` }"
            ></span>
            <span v-if="bar(p)" class="bar" :class="state(p)" :style="bar(p) ?? undefined"></span>
            <span v-if="need !== null" class="need" :style="{ left: `${need}%` }"></span>
          </span>
          <span class="facts">
            <span
              ><b>{{ focal(p.focal_mm) }} mm</b
              ><template v-if="p.equivalent_mm"> as {{ focal(p.equivalent_mm) }} on 36 × 24</template></span
            >
            <span :class="{ stop: p.fits === false }">{{
              p.widths_m
                ? `${wide(p.widths_m)} m wide${p.fits === false ? ', too narrow' : ''}`
                : 'no picture from there'
            }}</span>
            <span
              >{{ opening(p) }} ·
              {{ p.close_focus_mm === null ? 'close focus unknown' : `from ${fixed(p.close_focus_mm / 1000, 2)} m` }} ·
              {{ p.mass_g === null ? '?' : grams(p.mass_g) }} g</span
            >
            <span v-if="dark(p)" :class="{ stop: dark(p)?.short }">{{ dark(p)?.text }}</span>
          </span>
        </div>
        <section v-if="found.against.length" class="against" aria-labelledby="against-head">
          <h2 id="against-head">A zoom against primes</h2>
          <p v-for="a in found.against" :key="a.body + a.zoom">
            <b>{{ a.zoom }}</b> <small v-if="found.body === ALL">on {{ a.body }}</small>
            <span>{{ grams(a.zoom_g) }} g, no change, every length of {{ focal(a.focal_mm) }} mm</span>
            <span
              >{{ a.focals_mm.map((f) => fixed(f, 0)).join(', ') }} mm instead: {{ grams(a.primes_g) }} g{{
                a.changes ? ` in the case, ${grams(a.heaviest_g)} g at most on the rig` : ''
              }}, {{ gain(a.gains_stops)
              }}<template v-if="a.changes"
                >, {{ counted(a.changes, 'change') }} of {{ fixed(a.minutes, 0) }} min in all, up to ×{{
                  fixed(a.widest_step, 1)
                }}
                between two of them</template
              ><template v-else>, one look only</template></span
            >
          </p>
        </section>
        <PackagePanel v-if="found.body === ALL" :place="{ job, part, rig }" />
        <p class="caution">
          Bars: angle of view across, wide to the left. Full: the whole sensor; striped: a smaller recorded area;
          dashed: cannot be mounted with what is free. EV: the darkest scene that is exposed right wide open at the
          body’s highest sensitivity. The line is what this position needs<template v-if="found.gaps_deg.length"
            >; shaded: angles that no lens here reaches</template
          >.
        </p>
      </template>
      <p v-else class="quiet">Trying every lens…</p>
    </main>
  </FrameShell>
</template>

<style>
.against {
  padding: var(--gap-6) 0 0;
  font-size: var(--t-3);
}
.against h2 {
  font: 600 var(--t-5) var(--text);
}
.against p {
  display: grid;
  gap: var(--gap-1);
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--rule-2);
}
.plates {
  display: grid;
  gap: var(--gap-2);
  padding: var(--gap-4) 0;
  font-size: var(--t-2);
}
.plates p {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-7);
  border-left: 4px solid var(--rule);
  padding-left: var(--gap-5);
}
.plates p.on {
  border-left-color: var(--mark);
}
.plates .closes {
  color: var(--ink-2);
}
.lenses {
  grid-area: bench / bench / foot / foot;
  overflow-y: auto;
  background: var(--sheet);
  border-top: 1px solid var(--rule);
  padding: var(--gap-5) var(--gap-8) var(--gap-9);
  scrollbar-width: thin;
}
.lenses-head {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-8);
  align-items: baseline;
}
.lenses-head h1 {
  font: 700 var(--t-6) var(--text);
}
.lenses-head h1 span {
  font-weight: 400;
}
.lenses-head p {
  color: var(--ink-2);
  flex: 1;
}
.lens-axis,
.lens-row {
  display: grid;
  grid-template-columns: 270px minmax(0, 1fr) 268px;
  column-gap: var(--gap-8);
  align-items: center;
}
.lens-axis .scale,
.lens-row .span {
  position: relative;
  height: 26px;
}
.lens-axis .scale i {
  position: absolute;
  transform: translateX(-50%);
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
  font-style: normal;
  bottom: 2px;
}
.lens-row {
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
}
.lens-row .who b {
  display: block;
  font-size: var(--t-4);
}
.lens-row .who small {
  color: var(--ink-2);
  font-size: var(--t-2);
  display: block;
}
.lens-row .who .stop,
.lens-row .facts .stop {
  color: var(--stop);
}
.lens-row .who .watch {
  color: var(--watch);
}
.lens-row .span {
  height: 34px;
  background: linear-gradient(var(--rule-2), var(--rule-2)) 0 50% / 100% 1px no-repeat;
}
.lens-row .bar {
  position: absolute;
  top: 8px;
  height: 18px;
  background: var(--mark);
  min-width: 4px;
}
.lens-row .bar.some {
  background: repeating-linear-gradient(135deg, var(--mark) 0 4px, var(--mark-wash) 4px 8px);
  outline: 1px solid var(--mark);
}
.lens-row .bar.no {
  background: none;
  outline: 1.5px dashed var(--ink-3);
}
.gap {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--stop-wash);
}
.lens-row .facts {
  font: 400 var(--t-2) var(--figures);
  letter-spacing: -0.03em;
  display: grid;
  gap: 1px;
}
.lens-row .facts b {
  font-size: var(--t-5);
  letter-spacing: -0.05em;
}
@media (max-width: 760px) {
  .lenses {
    grid-area: bench;
    overflow: visible;
  }
  .lens-axis,
  .lens-row {
    grid-template-columns: 1fr;
  }
  .lens-axis .who,
  .lens-axis .facts {
    display: none;
  }
}
</style>
