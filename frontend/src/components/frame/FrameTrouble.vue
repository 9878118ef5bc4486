<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { useFrame } from '../../stores/frame'

/** What went wrong with a change of the job, and what can be done about it. */
const frame = useFrame()
</script>

<template>
  <p v-if="frame.problem" class="trouble" role="alert">
    {{ frame.problem.message }}
    <template v-if="frame.waiting">
      <BButton @click="frame.tryAgain()">{{
        { 'job.stale': 'Mine again on top', 'edit.others': 'Do it all the same' }[frame.problem.code] ?? 'Try again'
      }}</BButton>
      <BButton @click="frame.dismiss()">Dismiss</BButton>
    </template>
  </p>
</template>
