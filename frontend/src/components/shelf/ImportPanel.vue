<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormFile } from 'bootstrap-vue-next/components/BFormFile'
import { BTableSimple } from 'bootstrap-vue-next/components/BTable'
import { computed, ref, shallowRef } from 'vue'
import { importUnits } from '../../api'
import type { Problem } from '../../api/client'
import type { PlanView } from '../../api/schema.gen'

const emit = defineEmits<{ done: []; close: [] }>()
const file = shallowRef<File | null>(null)
const plan = shallowRef<PlanView | null>(null)
const problem = shallowRef<Problem | null>(null)
const busy = ref(false)

async function run(apply: boolean): Promise<void> {
  if (!file.value) return
  busy.value = true
  try {
    plan.value = await importUnits(file.value, apply, apply ? plan.value?.revision : undefined)
    problem.value = null
    if (apply) emit('done')
  } catch (error) {
    problem.value = error as Problem
  } finally {
    busy.value = false
  }
}

function pick(chosen: File | readonly File[] | null | undefined): void {
  const one = chosen instanceof File ? chosen : (chosen?.[0] ?? null)
  if (!one) return
  file.value = one
  plan.value = null
  void run(false)
}

const fresh = computed(() => plan.value?.changes.filter((c) => c.kind === 'new').length ?? 0)
</script>

<template>
  <section class="import" aria-label="Read units from a CSV">
    <header>
      <h2>Units from a CSV</h2>
      <BButton @click="emit('close')">Close</BButton>
    </header>
    <p>
      Columns: label, model, owner, measured_g, cg_x_mm, cg_y_mm, cg_z_mm, measured_w, health, cycles, condition, note.
      Columns that are left out keep what is known. Nothing is written before you have seen what would change.
    </p>
    <p>
      <BFormFile plain label="Choose a CSV" accept=".csv,text/csv" :disabled="busy" @update:model-value="pick" />
      {{ file?.name }}
    </p>
    <p v-if="problem" class="trouble" role="alert">
      {{ problem.message }}
      <BButton v-if="problem.code === 'shelf.stale'" @click="run(false)">Retry</BButton>
    </p>
    <template v-if="plan">
      <p v-if="plan.applied" role="status" class="done">
        {{ plan.changes.length }} units written, {{ plan.same }} as they were.
      </p>
      <p v-else role="status">
        <b>{{
          plan.errors.length
            ? `${plan.errors.length} lines are wrong; nothing can be written yet`
            : `${fresh} new, ${plan.changes.length - fresh} changed, ${plan.same} as they are`
        }}</b>
      </p>
      <BButton
        v-if="!plan.applied && !plan.errors.length && plan.changes.length"
        size="lg"
        :disabled="busy"
        @click="run(true)"
      >
        Write {{ plan.changes.length }} changes
      </BButton>
      <BTableSimple v-if="plan.errors.length" small class="plan-table">
        <tbody>
          <tr v-for="e in plan.errors" :key="`${e.line}${e.column}`">
            <td>line {{ e.line }}</td>
            <th>{{ e.column }}</th>
            <td class="stop">{{ e.message }}</td>
          </tr>
        </tbody>
      </BTableSimple>
      <BTableSimple v-if="plan.changes.length" small class="plan-table">
        <tbody>
          <tr v-for="c in plan.changes" :key="c.line">
            <td>line {{ c.line }}</td>
            <th class="unit">{{ c.unit }}</th>
            <td>
              <b v-if="c.kind === 'new'">new</b>{{ ' ' }}
              <span
                v-for="[name, was, now] in c.fields.filter((f) => c.kind === 'changed' || f[2])"
                :key="name"
                class="field"
                >{{ name }} <s v-if="was">{{ was }}</s> {{ now || 'none' }}</span
              >
            </td>
          </tr>
        </tbody>
      </BTableSimple>
    </template>
  </section>
</template>

<style>
.import .btn-lg {
  margin: var(--gap-3) var(--gap-7);
}
.plan-table {
  width: 100%;
  font-size: var(--t-2);
  border-collapse: collapse;
}
.plan-table td,
.plan-table th {
  padding: var(--gap-1) var(--gap-7);
  border-bottom: 1px solid var(--rule-2);
  text-align: left;
  vertical-align: top;
}
.plan-table .field {
  margin-right: var(--gap-6);
}
.plan-table .stop {
  color: var(--stop);
}
</style>
