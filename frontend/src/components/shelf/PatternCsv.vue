<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormFile } from 'bootstrap-vue-next/components/BFormFile'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, shallowRef } from 'vue'
import { importModels, templateAddress } from '../../api'
import type { Problem } from '../../api/client'
import type { PatternPlanView } from '../../api/schema.gen'
import { counted } from '../../lib/format'

/** Many models of one kind at once: an empty table to fill in, and what it would add before it is added. */
const props = defineProps<{ pattern: string }>()
const emit = defineEmits<{ added: [] }>()
const file = shallowRef<File | null>(null)
const plan = shallowRef<PatternPlanView | null>(null)
/** A field of its own after each file: one that was mended and is chosen again is read again. */
const round = ref(0)
const problem = shallowRef<Problem | null>(null)
const units = computed(() => (plan.value?.lines ?? []).reduce((sum, line) => sum + line.units, 0))

async function run(apply: boolean): Promise<void> {
  if (!file.value) return
  try {
    plan.value = await importModels(props.pattern, file.value, apply)
    problem.value = null
    if (apply) emit('added')
  } catch (error) {
    problem.value = error as Problem
  }
}
function pick(chosen: File | readonly File[] | null | undefined): void {
  const one = chosen instanceof File ? chosen : (chosen?.[0] ?? null)
  if (!one) return
  file.value = one
  plan.value = null
  round.value++
  void run(false)
}
</script>

<template>
  <div class="pattern-csv">
    <BLink class="btn btn-secondary" :href="templateAddress(pattern)" :download="`${pattern}.csv`">Empty CSV</BLink>
    <BFormFile :key="round" plain label="Read a CSV of these" accept=".csv,text/csv" @update:model-value="pick" />
    <span v-if="file">{{ file.name }}</span>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <template v-if="plan">
      <p v-if="plan.applied" role="status">{{ counted(plan.lines.length, 'model') }} added.</p>
      <template v-else-if="plan.errors.length">
        <p v-for="e in plan.errors" :key="`${e.line}${e.column}${e.message}`" class="stop">
          Line {{ e.line }}, {{ e.column }}: {{ e.message }}
        </p>
      </template>
      <template v-else>
        <p v-for="line in plan.lines" :key="line.line">
          {{ line.name }}: {{ counted(line.units, 'unit') }}, {{ counted(line.assumed, 'figure') }} assumed
          <small v-for="d in line.doubts" :key="d" class="watch">Check: {{ d }}</small>
        </p>
        <BButton variant="primary" @click="run(true)">
          Add {{ counted(plan.lines.length, 'model') }} and {{ counted(units, 'unit') }}
        </BButton>
      </template>
    </template>
  </div>
</template>

<style>
.pattern-csv {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-6);
  align-items: end;
}
.pattern-csv p {
  flex: 1 1 100%;
  padding: 0;
  margin: 0;
}
.pattern-csv p.stop {
  color: var(--stop);
}
</style>
