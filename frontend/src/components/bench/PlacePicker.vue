<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { readPlaces, type Operation } from '../../api'
import type { PlacesView, PlaceView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import { meant } from '../../lib/fields'
import EffectLine from './EffectLine.vue'
import PickerFrame from './PickerFrame.vue'

const props = defineProps<{ unit: string }>()
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load: ask } = useLoad<PlacesView>()
const frame = ref<InstanceType<typeof PickerFrame> | null>(null)

const words = ref('')
const shown = computed(() =>
  (found.value?.places ?? []).filter((p) => meant(words.value, `${p.onto} ${p.label} ${p.interface}`)),
)

async function load(): Promise<void> {
  const place = job.place
  if (place && (await ask(() => readPlaces(place, props.unit)))) await frame.value?.focusOn('.candidate')
}

async function take(place: PlaceView): Promise<void> {
  if (await bench.edit(...(place.operations as Operation[]))) {
    bench.selected = props.unit
    emit('close')
  }
}

watch([() => props.unit, () => job.place], load, { immediate: true })
</script>

<template>
  <PickerFrame
    ref="frame"
    v-model:words="words"
    :label="`Where ${unit} can go`"
    :unit="unit"
    what="where it can go"
    :more="found?.title"
    :problem="problem"
    :working="found ? null : 'Trying every free port…'"
    @close="emit('close')"
    @first="shown[0] && take(shown[0])"
  >
    <template v-if="found">
      <p v-if="!found.places.length" class="quiet">
        Nothing on this rig takes it now, not even through the adapters that are free. Another part must come off first,
        or an adapter be hired.
      </p>
      <ul>
        <li v-for="p in shown" :key="`${p.onto}/${p.port}`">
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
  </PickerFrame>
</template>
