<script setup lang="ts">
import { BModal } from 'bootstrap-vue-next/components/BModal'
import type { KeyLine } from '../composables/useKeys'

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
