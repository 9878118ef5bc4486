<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref, watch } from 'vue'
import { readDeal, type JobOperation } from '../../api'
import type { DealView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted } from '../../lib/format'
import { useFrame } from '../../stores/frame'

/** Which of several alike units goes where, dealt anew when somebody asks: what changes and why, taken as one. */
const props = defineProps<{ job: string; version: number }>()
const frame = useFrame()
const { found, problem, loading, steps, show } = useLoad<DealView>()
const asked = ref(false)
const ask = (): Promise<void> => {
  asked.value = true
  return steps(async () => {
    const value = await readDeal(props.job)
    return { value, last: !value.searching }
  }, 250)
}
watch(
  () => [props.job, props.version],
  () => {
    asked.value = false
    show(null)
  },
)
const said = (what: string, before: number, after: number): string =>
  before === after ? `${what}: ${String(after)}, as before` : `${what}: ${String(after)} instead of ${String(before)}`
</script>

<template>
  <section class="unit-deal" aria-label="Units dealt anew">
    <p>
      <BButton :disabled="loading" @click="ask">Deal the units anew</BButton>
      <small>nothing wanted twice, every camera keeps its own, the soundest to what happens once</small>
    </p>
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <template v-else-if="asked">
      <p v-if="!found || found.searching" class="quiet" role="status">Dealing…</p>
      <p v-else-if="!found.changes.length" class="quiet">
        {{
          found.short_after
            ? `${counted(found.short_after, 'unit')} not there, and no other deal has fewer: hire, or plan another build.`
            : 'They lie as well as they can.'
        }}
      </p>
      <template v-else>
        <ul>
          <li v-for="c in found.changes" :key="c.rig + c.build + c.unit">
            <b>{{ c.by }}</b> for <span>{{ c.unit }}</span> on {{ c.rig }}, {{ c.build }}
            <small>{{ c.title }}: {{ c.why }}</small>
          </li>
        </ul>
        <p class="deal-sums">
          {{ said('Wanted and not there', found.short_before, found.short_after) }} ·
          {{ said('Different units over all cameras', found.kept_before, found.kept_after) }}
          <small>{{ found.proven ? 'nothing better exists' : 'best that was found' }}</small>
          <BButton variant="primary" @click="frame.edit(...(found.operations as JobOperation[]))">Take it</BButton>
        </p>
      </template>
    </template>
  </section>
</template>

<style>
.unit-deal {
  font-size: var(--t-3);
  padding-bottom: var(--gap-5);
}
.unit-deal p {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-6);
  align-items: center;
  margin: 0;
}
.unit-deal small {
  color: var(--ink-2);
}
.unit-deal ul {
  list-style: none;
  margin: var(--gap-4) 0;
  padding: 0;
}
.unit-deal li {
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-3) 0;
}
.unit-deal li b,
.unit-deal li span {
  font-family: var(--figures);
}
.unit-deal li small {
  display: block;
}
.unit-deal .deal-sums .btn {
  margin-left: auto;
}
</style>
