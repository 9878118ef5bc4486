<script setup lang="ts">
import { BModal } from 'bootstrap-vue-next/components/BModal'
import type { KeyLine } from '../../composables/useKeys'

defineProps<{ lines: readonly Pick<KeyLine, 'keys' | 'does'>[]; title: string }>()
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <BModal v-model="open" :title="title" no-footer scrollable>
    <dl class="keys">
      <template v-for="l in lines" :key="l.does"
        ><dt>
          <kbd>{{ l.keys }}</kbd>
        </dt>
        <dd>{{ l.does }}</dd></template
      >
    </dl>
  </BModal>
</template>

<style>
.keys {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: var(--gap-4) var(--gap-8);
}
.keys kbd {
  font: 600 var(--t-3) var(--figures);
  background: var(--lift);
  color: var(--ink);
  border: 1px solid var(--rule);
  border-radius: 0;
  padding: 1px var(--gap-5);
  white-space: nowrap;
}
</style>
