<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { PortView } from '../../api/schema.gen'
import { useRoving } from '../../composables/useRoving'
import { grams, signed } from '../../lib/format'
import { useBench } from '../../stores/bench'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import PresetLines from './PresetLines.vue'
import LevelMark from '../frame/LevelMark.vue'

const bench = useBench()
const emit = defineEmits<{ port: [unit: string, port: string]; where: [unit: string]; exchange: [] }>()
const list = ref<HTMLElement | null>(null)
const { onKeydown, focusOn } = useRoving(list)

type Row = NonNullable<typeof bench.view>['rows'][number]
/** A recording mode sets area and frame rate together; one that names no rate leaves it as it is. */
async function record(row: Row, label: string): Promise<boolean> {
  const mode = row.recordings.find((m) => m.label === label)
  if (!mode) return false
  return bench.edit({
    op: 'adjust',
    unit: row.unit,
    ...(mode.area ? { area: mode.area } : {}),
    ...(mode.fps === null ? {} : { fps: mode.fps }),
  })
}
/** The first line of what the operator wears. */
const firstWorn = computed(() => bench.view?.rows.find((r) => r.worn)?.unit)
function held(port: PortView): string {
  return port.free ? 'free' : port.holds.join(', ')
}

defineExpose({ focusOn })
/** Identifiers with their names, as a choice wants them. */
const named = (all: readonly { id?: string | undefined; label?: string | undefined }[]) =>
  all.map((x) => ({ value: x.id ?? '', text: x.label ?? '' }))
</script>

<template>
  <section ref="list" class="build" aria-label="Build, from the body outwards" @keydown="onKeydown">
    <ul>
      <li v-for="row in bench.view?.rows ?? []" :key="row.unit" :class="{ chosen: row.unit === bench.selected }">
        <h2 v-if="row.worn && row.unit === firstWorn" class="small-head">
          On the operator
          <small v-if="bench.view">{{ grams(bench.view.figures.worn_g) }} g that the arms do not carry</small>
        </h2>
        <button
          type="button"
          class="row-line"
          data-rove
          :data-unit="row.unit"
          :style="{ paddingLeft: `${6 + row.depth * 13}px` }"
          :aria-expanded="row.unit === bench.selected"
          @focus="bench.selected = row.unit"
          @click="bench.selected = row.unit"
        >
          <span class="unit">{{ row.unit }}</span>
          <span class="what">{{ row.joint ? `${row.joint} · ` : '' }}{{ row.title }}</span>
          <span class="mass" :class="row.mass_source">{{
            row.mass_g === null ? '? g' : `${grams(row.mass_g)} g`
          }}</span>
          <LevelMark v-if="row.level !== 'clear'" :level="row.level" :size="14" />
        </button>
        <div v-if="row.unit === bench.selected" class="hands">
          <p class="full">
            {{ row.title }}<template v-if="row.parent"> on {{ row.parent }}, {{ row.joint }}</template
            ><template v-if="row.worn"> on the belt</template>
          </p>
          <div class="moves">
            <template v-if="row.slides">
              <BButton aria-label="Slide 10 mm back" @click="bench.slideBy(row.unit, -10)"> −10 </BButton>
              <BButton aria-label="Slide 1 mm back" @click="bench.slideBy(row.unit, -1)"> −1 </BButton>
              <output class="at" :title="`slides from ${row.slides.min_mm} to ${row.slides.max_mm} mm`"
                >{{ signed(row.slide_mm, 1) }} mm</output
              >
              <BButton aria-label="Slide 1 mm forward" @click="bench.slideBy(row.unit, 1)"> +1 </BButton>
              <BButton aria-label="Slide 10 mm forward" @click="bench.slideBy(row.unit, 10)"> +10 </BButton>
            </template>
            <BButton v-if="row.parent && row.turns" @click="bench.edit({ op: 'turn', unit: row.unit, steps: 1 })">
              Turn {{ row.spin_deg }}°
            </BButton>
            <BButton v-if="row.parent || row.worn" @click="emit('where', row.unit)">Move to…</BButton>
            <BButton @click="emit('exchange')">Exchange…</BButton>
            <BButton v-if="row.parent || row.worn" class="off" @click="bench.edit({ op: 'detach', unit: row.unit })">
              Take off
            </BButton>
          </div>
          <div v-for="(hinge, i) in row.hinges" :key="i" class="moves bends">
            <span>{{ hinge.label }}</span>
            <BButton
              :aria-label="`Bend the ${hinge.label} 15° back`"
              @click="bench.edit({ op: 'bend', unit: row.unit, hinge: i, to_deg: hinge.deg - 15 })"
            >
              −15
            </BButton>
            <NumberField
              :min="hinge.min_deg"
              :max="hinge.max_deg"
              step="1"
              :aria-label="`${hinge.label} of ${row.unit}, degrees`"
              :model-value="Math.round(hinge.deg)"
              :commit="(to_deg) => bench.edit({ op: 'bend', unit: row.unit, hinge: i, to_deg })"
            />°
            <BButton
              :aria-label="`Bend the ${hinge.label} 15° on`"
              @click="bench.edit({ op: 'bend', unit: row.unit, hinge: i, to_deg: hinge.deg + 15 })"
            >
              +15
            </BButton>
          </div>
          <label v-if="row.areas.length > 1" class="setting"
            >Area
            <ChoiceField
              :model-value="row.area"
              :choices="named(row.areas)"
              :commit="(area: string) => bench.edit({ op: 'adjust', unit: row.unit, area })"
            />
          </label>
          <label v-if="row.focal_range_mm" class="setting"
            >Set to
            <NumberField
              :min="row.focal_range_mm[0]"
              :max="row.focal_range_mm[1]"
              step="1"
              :model-value="row.focal_mm"
              :commit="(focal_mm) => bench.edit({ op: 'adjust', unit: row.unit, focal_mm })"
            />
            mm
          </label>
          <label v-if="row.stops" class="setting"
            >Aperture f/
            <NumberField
              :min="Math.round(row.stops[0] * 10) / 10"
              max="64"
              step="0.1"
              :aria-label="`Aperture of ${row.unit}`"
              :model-value="Math.round(row.stops[1] * 10) / 10"
              :commit="(stop) => bench.edit({ op: 'adjust', unit: row.unit, stop })"
            />
            from {{ Math.round(row.stops[0] * 10) / 10 }}
          </label>
          <div v-if="row.exposure" class="setting exposure">
            <label
              >ISO
              <NumberField
                min="25"
                step="1"
                :model-value="row.exposure.iso"
                :commit="(iso) => bench.edit({ op: 'adjust', unit: row.unit, iso })"
            /></label>
            <label
              ><NumberField
                min="1"
                max="1000"
                aria-label="Frames a second"
                :model-value="row.exposure.fps"
                :commit="(fps) => bench.edit({ op: 'adjust', unit: row.unit, fps })"
              />
              fps</label
            >
            <label
              ><NumberField
                min="1"
                max="360"
                aria-label="Shutter angle"
                :model-value="row.exposure.shutter_deg"
                :commit="(shutter_deg) => bench.edit({ op: 'adjust', unit: row.unit, shutter_deg })"
              />
              °</label
            >
          </div>
          <label v-if="row.recordings.length > 1" class="setting"
            >Mode
            <ChoiceField
              :model-value="row.recordings.find((m) => m.now)?.label ?? ''"
              :choices="[
                ...(row.recordings.some((m) => m.now) ? [] : [{ value: '', text: 'no mode fits' }]),
                ...row.recordings.map((m) => ({ value: m.label, text: `${m.label} · ${m.told}` })),
              ]"
              :commit="(label: string) => record(row, label)"
            />
          </label>
          <PresetLines v-if="row.exposure" />
          <label v-if="row.pictures.length > 1" class="setting"
            >Output
            <ChoiceField
              :model-value="row.picture"
              :choices="named(row.pictures)"
              :commit="(picture: string) => bench.edit({ op: 'adjust', unit: row.unit, picture })"
            />
          </label>
          <label v-if="row.modes.length" class="setting"
            >Mode
            <ChoiceField
              :model-value="row.mode ?? ''"
              :choices="[...(row.mode ? [] : [{ value: '', text: 'not set' }]), ...named(row.modes)]"
              :commit="(mode: string) => bench.edit({ op: 'adjust', unit: row.unit, mode })"
            />
          </label>
          <div class="ports">
            <button
              v-for="p in row.ports"
              :key="p.id"
              type="button"
              class="port"
              data-rove
              :data-port="`${row.unit}/${p.id}`"
              :class="{ free: p.free, socket: p.socket }"
              :aria-label="`${p.label}, ${p.half} of ${p.interface}, ${held(p)}`"
              @click="emit('port', row.unit, p.id)"
            >
              <span class="name">{{ p.label }}</span><span class="kind">{{ p.interface }}</span
              ><span class="holds">{{ held(p) }}</span>
            </button>
          </div>
        </div>
      </li>
    </ul>
    <h2 v-if="bench.view?.cables.length" class="small-head">Cables</h2>
    <ul class="cables">
      <li v-for="c in bench.view?.cables ?? []" :key="c.cable">
        <span class="unit">{{ c.cable }}</span>
        <span class="what"
          >{{ c.from_text }} → {{ c.to_text }} · {{ Math.round(c.length_mm) }} for {{ Math.round(c.straight_mm) }} mm{{
            c.crosses ? `, over the axes: ${c.pull}` : ''
          }}<small
            >{{ [...new Set(c.plugs)].join(' to ') }}, {{ c.stiffness }}{{ c.locks ? ', locks' : '' }} ·
            {{ c.spares.length ? `spare: ${c.spares.join(', ')}` : 'no spare' }}</small
          ></span
        >
        <LevelMark v-if="c.level !== 'clear'" :level="c.level" :size="14" />
        <BButton
          data-rove
          :aria-label="`Take off cable ${c.cable}`"
          @click="bench.edit({ op: 'disconnect', cable: c.cable })"
        >
          Off
        </BButton>
      </li>
    </ul>
  </section>
</template>

<style>
.build {
  grid-area: list;
  overflow-y: auto;
  border-right: 1px solid var(--rule);
  background: var(--sheet);
  scrollbar-width: thin;
}
.build li {
  border-bottom: 1px solid var(--rule-2);
}
.build .small-head small {
  font-weight: 400;
  color: var(--ink-3);
}
.row-line {
  width: 100%;
  display: grid;
  grid-template: 'unit mass level' auto 'what what what' auto / minmax(0, 1fr) auto auto;
  padding: var(--gap-2) var(--gap-6) var(--gap-2) var(--gap-4);
  column-gap: var(--gap-4);
  align-items: center;
}
.row-line:hover {
  background: var(--lift);
}
.row-line .what {
  grid-area: what;
  font-size: var(--t-2);
  color: var(--ink-2);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
li.chosen .row-line .what {
  display: none;
}
.hands {
  padding: 0 var(--gap-6) var(--gap-5) var(--gap-7);
}
.hands .full {
  font-size: var(--t-2);
  color: var(--ink-2);
  padding-bottom: var(--gap-4);
}
.moves {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
  padding-bottom: var(--gap-4);
}
.moves .at {
  font: 600 var(--t-3) var(--figures);
  padding: 0 var(--gap-3);
  min-width: 76px;
  text-align: center;
}
.moves .btn {
  padding: var(--gap-1) var(--gap-4);
}
.moves .off {
  margin-left: auto;
}
.setting {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  font-size: var(--t-3);
  padding-bottom: var(--gap-4);
}
.setting select,
.setting input {
  min-width: 0;
}
.setting input {
  width: 70px;
  font-family: var(--figures);
}
.ports {
  display: grid;
  gap: 1px;
}
.port.socket::before {
  border-radius: 0;
}
.cables li {
  display: grid;
  grid-template: 'unit level act' auto 'what what what' auto / minmax(0, 1fr) auto auto;
  padding: var(--gap-2) var(--gap-6);
  column-gap: var(--gap-4);
  align-items: center;
}
.cables .what small {
  display: block;
  color: var(--ink-3);
}
.cables .what {
  grid-area: what;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.cables .btn {
  min-height: 20px;
  padding: 0 var(--gap-4);
  font-size: var(--t-2);
}
@media (max-width: 760px) {
  .moves .btn,
  .cables .btn {
    min-height: 42px;
    padding: var(--gap-4) var(--gap-7);
    font-size: var(--t-4);
  }
  .build {
    order: 2;
    border: 0;
    overflow: visible;
  }
  .show-callouts .build {
    display: none;
  }
  .row-line {
    padding-top: var(--gap-6);
    padding-bottom: var(--gap-6);
  }
}
.exposure {
  flex-wrap: wrap;
}
.exposure input {
  width: 58px;
}
</style>
