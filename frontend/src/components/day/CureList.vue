<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { watch } from 'vue'
import { readCures, type JobOperation } from '../../api'
import type { CuresView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { grams, signed } from '../../lib/format'
import { useFrame } from '../../stores/frame'

/** What of a build is not there in a part of the day, and the smallest changes that cure it, each tried. */
const props = defineProps<{ job: string; part: string; rig: string; build: string; version: number }>()
const emit = defineEmits<{ taken: [] }>()
const frame = useFrame()
const { found, problem, steps } = useLoad<CuresView>()
watch(
  () => [props.job, props.part, props.rig, props.build, props.version] as const,
  ([job, part, rig, build]) =>
    steps(async () => {
      const value = await readCures(job, part, rig, build)
      return { value, last: !value.searching }
    }, 250),
  { immediate: true },
)
const said = (n: number, what: string): string => `${signed(n, 0)} ${what}${Math.abs(n) === 1 ? '' : 's'}`
async function take(operations: readonly unknown[]): Promise<void> {
  if (await frame.edit(...(operations as JobOperation[]))) emit('taken')
}
</script>

<template>
  <section class="cure-list" aria-label="What is not there, and what cures it">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Looking what is there…</p>
    <template v-else-if="found.missing.length">
      <p v-for="m in found.missing" :key="m.unit" class="lacks">
        <b>{{ m.unit }}</b> {{ m.title }}: {{ m.why }}
      </p>
      <ul>
        <li v-for="(c, i) in found.cures" :key="i">
          <span>
            <template v-for="x in c.changes" :key="x.rig + x.unit"
              ><b>{{ x.by || 'nothing' }}</b> for {{ x.unit }} on {{ x.rig }} <small>{{ x.title }}</small><br
            /></template>
            <small class="does"
              >{{ c.stops || c.watches ? '' : 'no call-out more' }}{{ c.stops ? said(c.stops, 'Stop') : '' }}
              {{ c.watches ? said(c.watches, 'Watch').replace('Watchs', 'Watches') : '' }} ·
              {{ signed(c.grams, 0) }} g</small
            >
          </span>
          <BButton variant="primary" @click="take(c.operations)">Take it</BButton>
        </li>
      </ul>
      <p v-if="found.searching" class="quiet" role="status">Trying what would do…</p>
      <p v-else class="else">
        {{ found.cures.length ? 'Else hire' : 'No exchange does it: hire' }} one more<template
          v-for="m in found.missing.filter((x) => x.hire_per_day)"
          :key="m.unit"
          >, {{ m.title }} {{ grams(m.hire_per_day ?? 0) }} {{ found.currency }} a day</template
        >, or plan another build.
      </p>
    </template>
  </section>
</template>

<style>
.cure-list {
  border-left: 4px solid var(--stop);
  padding-left: var(--gap-5);
  font-size: var(--t-3);
}
.cure-list .lacks {
  color: var(--stop);
  margin: 0;
}
.cure-list ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.cure-list li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--gap-4);
  align-items: center;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
}
.cure-list li b {
  font-family: var(--figures);
}
.cure-list small {
  color: var(--ink-2);
}
.cure-list .else {
  color: var(--ink-2);
  font-size: var(--t-2);
}
</style>
