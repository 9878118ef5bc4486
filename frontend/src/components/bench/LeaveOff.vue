<script setup lang="ts">
import { watch } from 'vue'
import { readAccessories, type Operation } from '../../api'
import type { AccessoriesView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, fixed, grams, hours } from '../../lib/format'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import PickerFrame from './PickerFrame.vue'

/** What each thing costs and gives today; Enter on one leaves it off. */
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load } = useLoad<AccessoriesView>()
watch(
  () => [job.place, bench.saved?.version],
  () => {
    const here = job.place
    if (here) void load(() => readAccessories(here))
  },
  { immediate: true },
)
const WORTH = { true: 'helps today', false: 'does nothing today' } as const
const worth = (w: boolean | null): string => (w === null ? '' : WORTH[w ? 'true' : 'false'])
</script>

<template>
  <PickerFrame
    label="What each part costs and gives today"
    unit="Leave off"
    what="what each part costs and gives today"
    :more="undefined"
    :problem="problem"
    :working="found ? null : 'Leaving off one after the other…'"
    @close="emit('close')"
  >
    <p v-if="found && !found.accessories.length" class="quiet">Nothing here can be left off.</p>
    <button
      v-for="a in found?.accessories ?? []"
      :key="a.unit"
      type="button"
      class="leave"
      :class="{ idle: a.worth === false }"
      data-rove
      @click="bench.edit(...(a.operations as Operation[]))"
    >
      <span class="what"
        ><b>{{ a.unit }}</b> {{ a.title }}</span
      >
      <span class="costs"
        >{{ grams(a.mass_g) }} g · {{ fixed(a.litres, 1) }} l · {{ fixed(a.draw_w, 1) }} W<small
          v-if="a.takes_along.length"
        >
          with {{ a.takes_along.join(', ') }}</small
        ></span
      >
      <span class="gives"
        ><b v-if="worth(a.worth)">{{ worth(a.worth) }}</b> {{ a.gives }}</span
      >
      <span class="after"
        >without it {{ counted(a.effect.stops_after, 'Stop') }}, {{ a.effect.watches_after }}
        {{ a.effect.watches_after === 1 ? 'Watch' : 'Watches'
        }}<template v-if="a.effect.hours_after !== null">, {{ hours(a.effect.hours_after) }} h</template></span
      >
    </button>
  </PickerFrame>
</template>

<style>
.leave {
  display: grid;
  gap: var(--gap-1);
  width: 100%;
  padding: var(--gap-5) var(--gap-7);
  border: 0;
  border-bottom: 1px solid var(--rule-2);
  border-left: 4px solid transparent;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
}
.leave.idle {
  border-left-color: var(--mark);
}
.leave:hover,
.leave:focus-visible {
  background: var(--lift);
}
.leave .costs {
  font-family: var(--figures);
  font-size: var(--t-2);
}
.leave .gives,
.leave .after,
.leave small {
  font-size: var(--t-2);
  color: var(--ink-2);
}
.leave .gives b {
  color: var(--ink);
}
</style>
