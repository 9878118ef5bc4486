<script setup lang="ts">
import { shallowRef, watch } from 'vue'
import { readRemedies, type Operation, type Place } from '../api'
import type { Problem } from '../api/client'
import type { FindingView, RemedyView } from '../api/schema.gen'
import EffectLine from './EffectLine.vue'

const props = defineProps<{ finding: FindingView; place: Place }>()
const emit = defineEmits<{ take: [operations: Operation[]]; look: [operations: Operation[]]; away: [] }>()
const remedies = shallowRef<RemedyView[] | null>(null)
const trouble = shallowRef<Problem | null>(null)

watch(() => props.finding.key, async (key) => {
  remedies.value = null
  trouble.value = null
  try {
    const found = await readRemedies(props.place, key)
    if (props.finding.key === found.finding) remedies.value = found.remedies
  } catch (error) {
    trouble.value = error as Problem
  }
}, { immediate: true })
</script>

<template>
  <h3>Remedies tried</h3>
  <p v-if="trouble" class="trouble">{{ trouble.message }}</p>
  <p v-else-if="remedies === null" class="quiet">Trying what is on the shelf…</p>
  <p v-else-if="!remedies.length" class="quiet">Nothing on the shelf helps now. Usual cures: {{ finding.cures }}</p>
  <button
    v-for="r in remedies ?? []" :key="r.title" type="button" class="remedy" data-rove
    @click="emit('take', r.operations as Operation[])" @focus="emit('look', r.operations as Operation[])" @blur="emit('away')"
  >
    <span class="what">{{ r.title }}</span>
    <span v-if="!r.clears" class="eases">eases it only</span>
    <EffectLine :effect="r.effect" />
  </button>
</template>
