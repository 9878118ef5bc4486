<script setup lang="ts">
import { ref } from 'vue'
import { useShownChoice } from '../composables/useShownChoice'
import { grams, hours } from '../lib/format'
import { useJob } from '../stores/job'
import CountMarks from './CountMarks.vue'

const store = useJob()
const row = ref<HTMLElement | null>(null)
useShownChoice(row)
const emit = defineEmits<{ choose: [rig: string] }>()
</script>

<template>
  <nav ref="row" class="strips" aria-label="Cameras">
    <button
      v-for="s in store.strips?.strips ?? []"
      :key="s.rig"
      type="button"
      class="strip"
      :class="{ chosen: s.rig === store.rigId }"
      :aria-current="s.rig === store.rigId"
      :title="s.position"
      @click="emit('choose', s.rig)"
    >
      <span class="number">{{ s.number }}</span>
      <span class="who"
        ><b>{{ s.label }}</b
        ><span>{{ s.build_label ?? 'no build' }}</span></span
      >
      <span class="facts">
        <span>{{ grams(s.mass_g) }} g</span>
        <span>{{ s.balance }}</span>
        <span :class="{ short: s.hours !== null && s.hours < s.hours_needed }"
          >{{ hours(s.hours) }} of {{ hours(s.hours_needed) }} h</span
        >
      </span>
      <CountMarks :counts="s.counts" />
    </button>
  </nav>
</template>
