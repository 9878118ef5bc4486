<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { onUnmounted, ref, watch } from 'vue'
import { readPlaces, type Operation } from '../../api'
import type { PlacesView, PlaceView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { useRoving } from '../../composables/useRoving'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import EffectLine from './EffectLine.vue'

const props = defineProps<{ unit: string }>()
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load: ask } = useLoad<PlacesView>()
const panel = ref<HTMLElement | null>(null)
const { onKeydown, focusOn } = useRoving(panel)

async function load(): Promise<void> {
  const place = job.place
  if (place && (await ask(() => readPlaces(place, props.unit)))) await focusOn('.candidate')
}

async function take(place: PlaceView): Promise<void> {
  if (await bench.edit(...(place.operations as Operation[]))) {
    bench.selected = props.unit
    emit('close')
  }
}

watch([() => props.unit, () => job.place], load, { immediate: true })
onUnmounted(() => {
  bench.tryNothing()
})
</script>

<template>
  <section
    ref="panel"
    class="picker"
    :aria-label="`Where ${unit} can go`"
    @keydown="onKeydown"
    @keydown.esc.stop="emit('close')"
  >
    <header>
      <h2>{{ unit }} <span>where it can go</span></h2>
      <p>{{ found?.title }}</p>
      <BButton @click="emit('close')">Close</BButton>
    </header>
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Trying every free port…</p>
    <template v-else>
      <p v-if="!found.places.length" class="quiet">
        Nothing on this rig takes it now, not even through the adapters that are free. Another part must come off first,
        or an adapter be hired.
      </p>
      <ul>
        <li v-for="p in found.places" :key="`${p.onto}/${p.port}`">
          <button
            type="button"
            class="candidate"
            data-rove
            @click="take(p)"
            @focus="bench.tryOut(p.operations as Operation[])"
          >
            <span class="unit">{{ p.onto }}</span> {{ p.label }}
            <span class="what"
              >{{ p.interface }}<template v-if="p.adapter">, through {{ p.adapter }}</template></span
            >
            <EffectLine :effect="p.effect" />
          </button>
        </li>
      </ul>
    </template>
  </section>
</template>
