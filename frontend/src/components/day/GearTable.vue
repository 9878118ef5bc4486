<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref, watch } from 'vue'
import { readGear } from '../../api'
import type { DayView, GearView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted } from '../../lib/format'
import { meant } from '../../lib/fields'
import LevelMark from '../frame/LevelMark.vue'
import UnitDeal from './UnitDeal.vue'

/** All gear over the day: how many of each are out in each part, who has which, what stops with it and what stands in. */
const props = defineProps<{ job: string; view: DayView; version: number }>()
const { found, problem, load } = useLoad<GearView>(['build', 'job', 'jobs', 'shelf'])
watch(
  () => [props.job, props.version] as const,
  ([job]) => load(() => readGear(job)),
  { immediate: true },
)
const words = ref('')
const alone = ref(false)
const opened = ref('')
const shown = computed(() =>
  (found.value?.models ?? []).filter(
    (m) =>
      (!alone.value || m.alone) && meant(words.value, `${m.kind} ${m.title} ${m.units.map((u) => u.unit).join(' ')}`),
  ),
)
const apart = (n: number): string => (n ? `; ${n === 1 ? '1 lens' : `${String(n)} lenses`} of one only` : '')
const who = (unit: GearView['models'][number]['units'][number], part: string): string => unit.at[part] ?? ''
</script>

<template>
  <section class="gear-day" aria-label="Gear over the day">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Counting…</p>
    <template v-else>
      <p class="gear-ask">
        <BFormInput v-model="words" type="search" placeholder="label, kind or name" aria-label="Which gear" />
        <label><input v-model="alone" class="form-check-input" type="checkbox" /> only what has no spare</label>
        <span>{{ counted(shown.length, 'model') }}</span>
      </p>
      <UnitDeal :job="job" :version="version" />
      <div class="gear-head" :style="{ '--parts': view.parts.length }">
        <span></span>
        <span v-for="p in view.parts" :key="p.id">{{ p.label }}</span>
        <span>if it fails</span>
      </div>
      <div v-for="m in shown" :key="m.title" class="gear-model" :style="{ '--parts': view.parts.length }">
        <button
          type="button"
          class="gear-line"
          :aria-expanded="opened === m.title"
          @click="opened = opened === m.title ? '' : m.title"
        >
          <span class="what"
            ><b>{{ m.title }}</b
            ><small>{{ m.kind }} · {{ m.there }} there{{ m.hired ? `, ${m.hired} hired` : '' }}</small></span
          >
          <span v-for="p in view.parts" :key="p.id" class="out" :class="{ all: m.used[p.id] === m.there }">
            <small class="narrow">{{ p.label }}</small>
            <i role="img" :aria-label="`${m.used[p.id] ?? 0} of ${m.there} out`"
              ><u :style="{ width: `${((m.used[p.id] ?? 0) / Math.max(1, m.there)) * 100}%` }"></u
            ></i>
            {{ m.used[p.id] ?? 0 }}
          </span>
          <span class="fails"
            ><template v-if="m.alone"><LevelMark level="watch" :size="15" /> {{ m.alone }} without a spare</template
            ><template v-else-if="m.units.some((u) => u.stops)">spare there</template></span
          >
        </button>
        <p v-if="opened === m.title && m.serves.length" class="gear-serves">
          works on {{ m.serves.join(', ') }}{{ m.serves.length > 1 ? ': either can lend it' : '' }}
        </p>
        <div v-if="opened === m.title" class="gear-units">
          <div v-for="u in m.units" :key="u.unit" class="gear-unit">
            <span class="unit">{{ u.unit }}</span>
            <span v-for="p in view.parts" :key="p.id"
              ><small class="narrow">{{ p.label }}</small> {{ who(u, p.id) || '·' }}</span
            >
            <span class="fails"
              >{{ u.stops ? `${u.stops} stops` : ''
              }}<small>{{ u.spare ? `instead: ${u.spare}` : u.stops ? 'nothing stands in' : '' }}</small></span
            >
          </div>
        </div>
      </div>
      <p v-if="!shown.length" class="quiet">Nothing of that.</p>
      <section v-if="found.bodies.length" class="bodies-alike" aria-label="Bodies side by side">
        <h2>Bodies side by side</h2>
        <div v-for="a in found.bodies" :key="a.one + a.other" class="alike">
          <p>
            <b>{{ a.one }}</b> {{ a.same ? 'and one more of it' : 'and' }} <b v-if="!a.same">{{ a.other }}</b>
            <small>{{ a.same ? `${a.units[0]} of them` : `${a.units[0]} and ${a.units[1]}` }}</small>
          </p>
          <p :class="a.spare ? 'does' : 'does-not'">
            {{
              a.spare
                ? 'one stands in for the other with all that is on it'
                : 'neither stands in for the other as it is'
            }}
          </p>
          <dl>
            <div>
              <dt>Pictures that match</dt>
              <dd>{{ a.pictures.join(', ') || 'none' }}</dd>
            </div>
            <div>
              <dt>Lenses of both</dt>
              <dd>{{ a.lenses.join(', ') || 'none' }}{{ apart(a.lenses_apart) }}</dd>
            </div>
            <div>
              <dt>Packs of both</dt>
              <dd>{{ a.packs.join(', ') || 'none' }}</dd>
            </div>
            <div>
              <dt>Cards of both</dt>
              <dd>{{ a.cards.join(', ') || 'none' }}</dd>
            </div>
          </dl>
        </div>
      </section>
    </template>
  </section>
</template>

<style>
.gear-day {
  overflow: auto;
  padding: var(--gap-5) var(--gap-7) var(--gap-9);
  scrollbar-width: thin;
}
.gear-day .gear-ask {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5) var(--gap-8);
  align-items: center;
  font-size: var(--t-3);
  padding-bottom: var(--gap-5);
}
.gear-day .gear-ask .form-control {
  width: 220px;
}
.gear-day .gear-ask label {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.bodies-alike {
  padding-top: var(--gap-9);
  font-size: var(--t-3);
}
.bodies-alike h2 {
  font: 600 var(--t-5) var(--text);
}
.alike {
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-5) 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--gap-3) var(--gap-7);
}
.alike .does {
  color: var(--mark);
  font-weight: 600;
}
.alike .does-not {
  color: var(--ink-2);
}
.alike dl {
  grid-column: 1 / -1;
  margin: 0;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: var(--gap-4) var(--gap-7);
}
.alike dt {
  font: 400 var(--t-2) var(--text);
  color: var(--ink-3);
}
.alike dd {
  margin: 0;
}
.gear-head,
.gear-line,
.gear-unit {
  display: grid;
  grid-template-columns: minmax(200px, 1.7fr) repeat(var(--parts), minmax(64px, 1fr)) minmax(130px, 1fr);
  gap: var(--gap-3) var(--gap-6);
  align-items: center;
  width: 100%;
  text-align: left;
  font-size: var(--t-3);
}
.gear-head {
  position: sticky;
  top: 0;
  background: var(--sheet);
  z-index: 1;
  font-size: var(--t-2);
  color: var(--ink-2);
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--rule);
}
.gear-model {
  border-bottom: 1px solid var(--rule-2);
}
.gear-line {
  padding: var(--gap-4) 0;
  font-weight: 400;
}
.gear-line:hover {
  background: var(--lift);
}
.gear-line .what small {
  display: block;
  color: var(--ink-3);
}
.gear-line .out {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: var(--gap-3);
  align-items: center;
  font-family: var(--figures);
}
.gear-line .out i {
  height: 8px;
  background: var(--rule-2);
}
.gear-line .out u {
  display: block;
  height: 100%;
  background: var(--ink-3);
}
.gear-line .out.all u {
  background: var(--ink);
}
.gear-day .narrow {
  display: none;
}
.gear-day .fails {
  color: var(--ink-2);
}
.gear-day .fails small {
  display: block;
}
.gear-unit {
  padding: var(--gap-2) 0 var(--gap-3);
  font-size: var(--t-2);
  background: var(--lift);
}
.gear-unit .unit {
  padding-left: var(--gap-6);
}
@media (max-width: 760px) {
  .gear-head {
    display: none;
  }
  .gear-line,
  .gear-unit {
    grid-template-columns: 1fr 1fr;
    padding: var(--gap-6) 0;
  }
  .gear-line .what,
  .gear-unit .unit {
    grid-column: 1 / -1;
  }
  .gear-day .narrow {
    display: block;
    grid-column: 1 / -1;
    color: var(--ink-3);
  }
}
.gear-serves {
  margin: 0;
  padding: var(--gap-2) 0;
  font-size: var(--t-3);
  color: var(--ink-2);
}
</style>
