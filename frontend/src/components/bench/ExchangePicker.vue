<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { nextTick, onMounted, ref, watch } from 'vue'
import { readExchanges, type Operation } from '../../api'
import type { ExchangesView, ExchangeView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import EffectLine from './EffectLine.vue'
import PickerFrame from './PickerFrame.vue'

/** What can take the place of a part or of the body; all that still goes stays on. */
const props = defineProps<{ unit: string }>()
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load } = useLoad<ExchangesView>()
const words = ref('')
const input = ref<InstanceType<typeof BFormInput> | null>(null)

async function look(): Promise<void> {
  const here = job.place
  if (!here || !(await load(() => readExchanges(here, props.unit, words.value)))) return
  const first = found.value?.exchanges[0]
  if (first) void bench.tryOut(first.operations as Operation[])
  else bench.tryNothing()
}
watch(() => [props.unit, job.place], look)
watch(words, useDebounceFn(look, 120))

async function take(way: ExchangeView | undefined): Promise<void> {
  if (!way || !(await bench.edit(...(way.operations as Operation[])))) return
  bench.selected = way.unit
  emit('close')
}
onMounted(async () => {
  await look()
  await nextTick()
  input.value?.focus()
})
</script>

<template>
  <PickerFrame
    :label="`Exchange ${unit}`"
    :unit="unit"
    what="exchange it for"
    :more="undefined"
    :problem="problem"
    :working="found ? null : 'Trying what is free…'"
    @close="emit('close')"
  >
    <template #ask>
      <BFormInput
        ref="input"
        v-model="words"
        class="add-words"
        aria-label="Exchange for"
        placeholder="of the same kind; type for another"
        autocomplete="off"
        @keydown.enter.prevent="take(found?.exchanges[0])"
      />
    </template>
    <template v-if="found">
      <p v-if="!found.exchanges.length" class="quiet">
        Nothing free in stock goes there. Type the label or name of something else to try it.
      </p>
      <ul>
        <li v-for="e in found.exchanges" :key="e.unit">
          <button
            type="button"
            class="candidate"
            data-rove
            @click="take(e)"
            @focus="bench.tryOut(e.operations as Operation[])"
          >
            <span class="unit">{{ e.unit }}</span> {{ e.title }}
            <span v-if="e.left.length" class="what watch">comes off: {{ e.left.join(', ') }}</span>
            <EffectLine :effect="e.effect" />
          </button>
        </li>
      </ul>
    </template>
  </PickerFrame>
</template>
