<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { RecordView } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

/** Every balance of this build that was kept: what was set, by whom, when; removed and brought back. */
const props = defineProps<{ records: RecordView[]; names: Record<string, string> }>()
const emit = defineEmits<{ remove: [id: number, removed: boolean] }>()
const here = computed(() => props.records.filter((r) => !r.removed).length)

/** How it was made, in a line. */
function made(r: RecordView): string {
  const checks = Object.entries(r.made.checks ?? {})
  const failed = checks.filter(([, seen]) => seen !== 'holds')
  const loads = Object.entries(r.made.loads_nm ?? {}).map(([axis, nm]) => `${axis} ${fixed(nm, 3)}`)
  return [
    r.made.order,
    checks.length
      ? failed.length
        ? failed.map(([axis, seen]) => `${name(axis)}: ${seen}`).join(', ')
        : 'every check holds'
      : '',
    loads.length ? `loads ${loads.join(', ')} N·m` : '',
    r.made.calibrated == null ? '' : r.made.calibrated ? 'motors calibrated' : 'motors not calibrated to it',
    r.made.left ? `left ${r.made.left}` : '',
    r.made.screen ? `screen ${r.made.screen}` : '',
    r.made.gap_mm != null ? `gap ${fixed(r.made.gap_mm, 1)} mm` : '',
  ]
    .filter(Boolean)
    .join(' · ')
}
const name = (axis: string): string => props.names[axis] ?? axis
</script>

<template>
  <details v-if="records.length" class="earlier-balances">
    <summary>
      <h3>Kept balances</h3>
      <span>{{ here }}</span>
    </summary>
    <div v-for="r in records" :key="r.id" class="kept" :class="{ gone: r.removed }">
      <b>{{ r.at.slice(0, 16).replace('T', ' ') }}</b> {{ r.actor }}:
      <span v-for="(value, axis) in r.set_to" :key="axis">{{ names[axis] ?? axis }} {{ fixed(value, 1) }} </span>
      <span v-if="made(r)" class="made">{{ made(r) }}</span>
      <details v-if="r.made.flight?.length" class="checked-before">
        <summary>{{ r.made.flight.length }} things checked before</summary>
        <ul>
          <li v-for="line in r.made.flight" :key="line">{{ line }}</li>
        </ul>
      </details>
      <em v-if="r.note">{{ r.note }}</em>
      <BButton @click="emit('remove', r.id, !r.removed)">{{ r.removed ? 'Bring back' : 'Remove' }}</BButton>
    </div>
  </details>
</template>

<style>
.earlier-balances summary {
  display: flex;
  gap: var(--gap-5);
  align-items: baseline;
  cursor: pointer;
}
.earlier-balances .kept {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-5);
  align-items: center;
  font-size: var(--t-3);
  padding: var(--gap-2) 0;
}
.earlier-balances .made {
  flex-basis: 100%;
  color: var(--ink-2);
}
.earlier-balances .checked-before {
  flex-basis: 100%;
}
.earlier-balances .checked-before summary {
  min-height: 24px;
  cursor: pointer;
}
.earlier-balances .checked-before li {
  color: var(--ink-2);
  padding-left: var(--gap-6);
}
.earlier-balances .gone {
  color: var(--ink-2);
  text-decoration: line-through;
}
.earlier-balances .gone .btn {
  text-decoration: none;
}
</style>
