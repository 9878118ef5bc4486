<script setup lang="ts">
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, watch } from 'vue'
import { dayFile, readBudget } from '../../api'
import type { BudgetView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, fixed, grams, weekday } from '../../lib/format'
import MoneyCosts from './MoneyCosts.vue'
import MoneyWants from './MoneyWants.vue'

/** What the job costs in gear: hire by model over its days with tax, and what is owned. Every sum is of the lines above it. */
const props = defineProps<{ job: string; part: string; rig: string; version: number }>()
const { found, problem, load } = useLoad<BudgetView>(['build', 'job', 'jobs', 'shelf'])
watch(
  () => [props.job, props.version] as const,
  ([job]) => load(() => readBudget(job)),
  { immediate: true },
)
const hired = computed(() => found.value?.lines.filter((l) => l.owner === 'hired') ?? [])
const owned = computed(() => found.value?.lines.filter((l) => l.owner !== 'hired') ?? [])
const most = computed(() => Math.max(1, ...hired.value.map((l) => l.total)))
</script>

<template>
  <section class="money-day" aria-label="Money">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Adding up…</p>
    <template v-else>
      <p class="money-sum">
        <b>{{ grams(found.all_total) }}</b> {{ found.currency }}: hire, running costs and what is decided{{
          found.all_tax ? `, ${grams(found.all_tax)} of it tax` : ''
        }}
        <BLink class="btn btn-secondary" :href="dayFile(job, 'budget.csv')">CSV</BLink>
        <small
          >gear of one’s own worth {{ grams(found.worth) }}
          <template v-if="found.unknown.length">
            · no price: {{ found.unknown.slice(0, 6).join(', ')
            }}{{ found.unknown.length > 6 ? ` and ${found.unknown.length - 6} more` : '' }}</template
          ></small
        >
      </p>
      <p class="money-by">
        <span v-for="(sum, camera) in found.by_camera" :key="camera"
          ><b>{{ camera }}</b> {{ grams(sum) }}</span
        >
      </p>
      <h2>Hired</h2>
      <p v-for="l in hired" :key="l.title + l.days" class="money-line">
        <span class="what"
          ><b>{{ l.title }}</b
          ><small>{{ l.units.join(', ') }}{{ l.cameras.length ? ` · ${l.cameras.join(', ')}` : '' }}</small></span
        >
        <span class="how"
          >{{ l.each === null ? 'no price of each' : `${fixed(l.each, 0)} a day` }} × {{ l.units.length }},
          {{ counted(l.days, 'day') }}</span
        >
        <span class="bar" aria-hidden="true"><u :style="{ width: `${(l.total / most) * 100}%` }"></u></span>
        <span class="sum">{{ l.total ? grams(l.total) : '?' }}</span>
        <span class="pays">{{
          l.payback_days === null ? '' : `bought pays after ${fixed(Math.ceil(l.payback_days), 0)} days of hire`
        }}</span>
      </p>
      <p v-if="!hired.length" class="quiet">Nothing is hired.</p>
      <p v-else class="money-line all">
        <span class="what">Hire</span><span class="how"></span><span></span
        ><span class="sum">{{ grams(found.hire) }}</span
        ><span class="pays">{{
          found.tax_share ? `tax ${fixed(found.tax_share * 100, 0)} %: ${grams(found.tax)}` : 'without tax'
        }}</span>
      </p>
      <template v-if="found.returns.length">
        <h2>Back by</h2>
        <p v-for="r in found.returns" :key="r.by ?? ''" class="money-back">
          <b>{{ r.by ? `${weekday(r.by)} evening` : 'nobody said when' }}</b> {{ r.units.join(', ') }}
        </p>
      </template>
      <MoneyCosts :view="found" />
      <MoneyWants :job="job" :part="part" :rig="rig" :view="found" />
      <details>
        <summary>Owned, {{ counted(owned.length, 'model') }}, worth {{ grams(found.worth) }}</summary>
        <p v-for="l in owned" :key="l.title" class="money-line">
          <span class="what"
            ><b>{{ l.title }}</b
            ><small>{{ l.units.join(', ') }}</small></span
          >
          <span class="how">{{ l.each === null ? '' : `${grams(l.each)} each` }} × {{ l.units.length }}</span
          ><span></span><span class="sum">{{ l.total ? grams(l.total) : '?' }}</span
          ><span class="pays"></span>
        </p>
      </details>
    </template>
  </section>
</template>

<style>
.money-day {
  overflow: auto;
  padding: var(--gap-6) var(--gap-7) var(--gap-9);
  scrollbar-width: thin;
}
.money-sum b {
  font: 700 var(--t-7) var(--figures);
}
.money-sum small {
  display: block;
  color: var(--ink-2);
  font-size: var(--t-3);
}
.money-by {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-8);
  padding: var(--gap-5) 0;
  font-size: var(--t-3);
}
.money-day h2 {
  font: 600 var(--t-4) var(--text);
}
.money-line {
  display: grid;
  grid-template-columns: minmax(180px, 1.6fr) minmax(120px, 1fr) minmax(40px, 0.7fr) 70px minmax(140px, 1fr);
  gap: var(--gap-5);
  align-items: center;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
  font-size: var(--t-3);
}
.money-line small {
  display: block;
  color: var(--ink-3);
}
.money-line .sum {
  font: 600 var(--t-4) var(--figures);
  text-align: right;
}
.money-line .how,
.money-line .pays {
  color: var(--ink-2);
}
.money-line .bar {
  height: 8px;
  background: var(--rule-2);
}
.money-line .bar u {
  display: block;
  height: 100%;
  background: var(--ink-3);
}
.money-line.all {
  border-top: 3px solid var(--ink);
  font-weight: 600;
}
.money-back {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: var(--gap-5);
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-3) 0;
  font-size: var(--t-3);
}
@media (max-width: 760px) {
  .money-line {
    grid-template-columns: 1fr auto;
  }
  .money-line .bar {
    display: none;
  }
}
</style>
