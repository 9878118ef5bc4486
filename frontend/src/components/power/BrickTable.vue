<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, watch } from 'vue'
import { readBricks, type Place } from '../../api'
import type { Brick, BricksView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, fixed, grams, hours, signed } from '../../lib/format'
import { useBench } from '../../stores/bench'

/** Every kind of pack that goes in one slot, beside each other: energy, mass, size, and what the rig is with it. */
const props = defineProps<{ place: Place; pack: string; version: number }>()
const emit = defineEmits<{ taken: [] }>()
const bench = useBench()
const { found, problem, load, show } = useLoad<BricksView>()
watch(
  () => [props.place, props.pack, props.version] as const,
  ([place, pack]) => {
    show(null)
    void load(() => readBricks(place, pack))
  },
  { immediate: true },
)
const most = computed(() => Math.max(1, ...(found.value?.bricks ?? []).map((b) => b.energy_wh)))
const size = (b: Brick): string => b.size_mm.map((mm) => fixed(mm, 0)).join(' × ')
async function take(b: Brick): Promise<void> {
  await bench.open(props.place)
  if (await bench.edit(...b.operations)) emit('taken')
}
</script>

<template>
  <section class="bricks" aria-label="Packs for this slot">
    <h3>
      Packs for the slot of {{ pack }}
      <small>each tried on this rig; moment about its support, nose-down positive</small>
    </h3>
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Trying every pack…</p>
    <ul v-else>
      <li v-for="b in found.bricks" :key="b.unit" :class="{ now: b.now }">
        <span class="who"
          ><b class="unit">{{ b.unit }}</b> {{ b.title }} <small v-if="b.alike">and {{ b.alike }} alike</small></span
        >
        <span class="energy" aria-hidden="true"><i :style="{ width: `${(b.energy_wh / most) * 100}%` }"></i></span>
        <span class="in-sums"
          ><b>{{ b.hours === null ? 'no end' : `${hours(b.hours)} h` }}</b
          ><span>{{ fixed(b.energy_wh, 0) }} Wh</span><span>{{ grams(b.mass_g) }} g</span><span>{{ size(b) }} mm</span
          ><span>{{ signed(b.front_nm, 2) }} N·m</span></span
        >
        <span class="told-verdict"
          >{{ counted(b.stops, 'Stop') }}, {{ b.watches }} {{ b.watches === 1 ? 'Watch' : 'Watches' }}</span
        >
        <span v-if="b.now" class="on">on now</span>
        <BButton v-else :aria-label="`Put ${b.unit} in`" @click="take(b)">Put it in</BButton>
      </li>
    </ul>
  </section>
</template>

<style>
.bricks {
  padding: var(--gap-4) var(--gap-8);
}
.bricks h3 {
  font: 600 var(--t-3) var(--text);
}
.bricks h3 small {
  font-weight: 400;
  color: var(--ink-2);
}
.bricks li {
  display: grid;
  grid-template-columns: minmax(140px, 210px) 80px minmax(0, 1fr) 116px 84px;
  gap: var(--gap-2) var(--gap-7);
  align-items: center;
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.bricks li.now {
  box-shadow: inset 4px 0 var(--mark);
  padding-left: var(--gap-5);
}
.bricks .energy {
  height: 10px;
  background: var(--rule-2);
}
.bricks .energy i {
  display: block;
  height: 100%;
  background: var(--mark);
}
.bricks .in-sums {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-6);
  font: 400 var(--t-2) var(--figures);
  align-items: baseline;
}
.bricks .in-sums b {
  font-size: var(--t-4);
}
.bricks .told-verdict,
.bricks .on,
.bricks small {
  color: var(--ink-2);
  font-size: var(--t-2);
}
@media (max-width: 760px) {
  .bricks li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .bricks .who,
  .bricks .in-sums {
    grid-column: 1 / -1;
  }
  .bricks .energy {
    display: none;
  }
}
</style>
