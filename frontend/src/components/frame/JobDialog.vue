<script setup lang="ts">
import { BModal } from 'bootstrap-vue-next/components/BModal'
import JobFilePanel from './JobFilePanel.vue'
import TakeAlong from './TakeAlong.vue'

defineProps<{ job: string }>()
const emit = defineEmits<{ imported: [job: string] }>()
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <BModal v-model="open" title="Job file" no-footer>
    <JobFilePanel :job="job" @imported="emit('imported', $event)" />
    <TakeAlong />
  </BModal>
</template>
