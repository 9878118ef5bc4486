<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BOffcanvas } from 'bootstrap-vue-next/components/BOffcanvas'
import { useMediaQuery } from '@vueuse/core'
import { computed, onUnmounted, ref } from 'vue'
import type { Problem } from '../../api/client'
import { useRoving } from '../../composables/useRoving'
import { useBench } from '../../stores/bench'

/** A list of changes to try, beside the drawing or, on a phone, drawn up over it. */
const props = defineProps<{
  label: string
  unit: string
  what: string
  more: string | undefined
  problem: Problem | null
  /** What is done until there is something to choose from; nothing when there is. */
  working: string | null
}>()
const emit = defineEmits<{ close: []; first: [] }>()
/** Letters that narrow the list; typed anywhere in it. */
const words = defineModel<string>('words')
const filter = ref<InstanceType<typeof BFormInput> | null>(null)
const LETTER = /^[\p{L}\p{N}]$/u
function narrow(event: KeyboardEvent): void {
  onKeydown(event)
  const typing = (event.target as HTMLElement).matches('input, select, textarea')
  if (words.value === undefined || typing || event.ctrlKey || event.metaKey || event.altKey || !LETTER.test(event.key))
    return
  event.preventDefault()
  event.stopPropagation()
  words.value += event.key
  filter.value?.focus()
}
const bench = useBench()
const phone = useMediaQuery('(max-width: 760px)')
const panel = ref<HTMLElement | null>(null)
const { onKeydown, focusOn } = useRoving(panel)
const around = computed(() =>
  phone.value
    ? {
        is: BOffcanvas,
        modelValue: true,
        placement: 'bottom' as const,
        noHeader: true,
        noAnimation: true,
        'aria-label': props.label,
        onHide: () => {
          emit('close')
        },
      }
    : { is: 'div', class: 'beside' },
)

onUnmounted(() => {
  bench.tryNothing()
})
defineExpose({ focusOn })
</script>

<template>
  <component v-bind="around" :is="around.is">
    <section ref="panel" class="picker" :aria-label="label" @keydown="narrow" @keydown.esc.stop="emit('close')">
      <header>
        <h2>
          {{ unit }} <span>{{ what }}</span>
        </h2>
        <p>{{ more }}</p>
        <BButton @click="emit('close')">Close</BButton>
      </header>
      <slot name="ask" />
      <BFormInput
        v-if="words !== undefined"
        ref="filter"
        v-model="words"
        class="add-words"
        type="search"
        aria-label="Filter the list"
        placeholder="type to filter; Enter takes the first"
        @keydown.down.prevent="focusOn('.candidate')"
        @keydown.enter.prevent="emit('first')"
      />
      <p v-if="problem" class="trouble">{{ problem.message }}</p>
      <p v-else-if="working" class="quiet">{{ working }}</p>
      <slot v-else />
    </section>
  </component>
</template>

<style>
.beside {
  display: contents;
}
.picker header {
  display: grid;
  grid-template: 'name close' auto 'kind close' auto / 1fr auto;
  padding: var(--gap-6) var(--gap-7);
  background: var(--mark-wash);
}
.picker h2 {
  font: 600 var(--t-5)/1.2 var(--figures);
}
.picker h2 span {
  font-family: var(--text);
  font-weight: 400;
}
.picker header p {
  font-size: var(--t-3);
  color: var(--ink-2);
}
.picker header .btn {
  grid-area: close;
  align-self: start;
}
.add-words {
  margin: var(--gap-4) var(--gap-6);
  width: calc(100% - 2 * var(--gap-6));
  font-size: var(--t-6);
}
.picker ul {
  padding: var(--gap-1) var(--gap-5) var(--gap-4);
}
.offcanvas-bottom:has(.picker) {
  height: 88vh;
  border-top: 3px solid var(--mark);
}
.offcanvas-bottom:has(.picker) .offcanvas-body {
  padding: 0;
}
@media (max-width: 760px) {
  .picker {
    border: 0;
    overflow: visible;
    padding-bottom: 40px;
  }
  .picker .btn {
    min-height: 42px;
    padding: var(--gap-4) var(--gap-7);
    font-size: var(--t-4);
  }
}
</style>
