<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, ref } from 'vue'
import type { SafetyView } from '../../api/schema.gen'
import type { Choice } from '../../lib/fields'
import { freshId } from '../../lib/ids'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import TextField from '../fields/TextField.vue'
import LevelMark from '../frame/LevelMark.vue'

/** What others have to allow, on what that rests, and when somebody looked; the use of the job decides with it. */
const props = defineProps<{ view: SafetyView }>()
const frame = useFrame()
type Permission = SafetyView['permissions'][number]['permission']
const KINDS = ['place', 'people', 'music', 'drone', 'vehicle', 'radio', 'other'] as const
const STATES = ['to ask', 'asked', 'given', 'refused', 'not needed'] as const
const SAID = ['in writing', 'by word', 'a rule of weight', 'well known', 'hearsay'] as const
const RESTS: Choice<NonNullable<Permission['rests_on']>>[] = [
  { value: '', text: 'nobody said' },
  ...SAID.map((said) => ({ value: said, text: said })),
]
const parts = computed(() => frame.view?.job.parts ?? [])
const open = ref('')
/** What was changed just before is in what a change starts from: two quick ones do not undo each other. */
const put = (was: Permission, change: Partial<Permission> | ((now: Permission) => Partial<Permission>)) =>
  frame.editFrom((job) => {
    const now = job.safety?.permissions?.find((p) => p.id === was.id) ?? was
    return { op: 'put permission', permission: { ...now, ...(typeof change === 'function' ? change(now) : change) } }
  })
function add(kind: NonNullable<Permission['kind']> = 'other', label = ''): Promise<boolean> {
  const { id, number } = freshId(
    'permission',
    props.view.permissions.map((p) => p.permission.id),
  )
  open.value = id
  return frame.edit({
    op: 'put permission',
    permission: { id, kind, label: label || `Permission ${String(number)}` },
  })
}
function copy(was: Permission): Promise<boolean> {
  const { id } = freshId(
    'permission',
    props.view.permissions.map((p) => p.permission.id),
  )
  open.value = id
  return frame.edit({ op: 'put permission', permission: { ...was, id, label: `${was.label}, copy` } })
}
function tickPart(was: Permission, part: string): Promise<boolean> {
  const all = parts.value.map((p) => p.id)
  return put(was, (now) => {
    const had = now.parts?.length ? now.parts : all
    const ticked = had.includes(part) ? had.filter((p) => p !== part) : [...had, part]
    // None would read as all: the last one stays.
    return { parts: ticked.length === all.length ? [] : ticked.length ? ticked : had }
  })
}
const date = (event: Event): string | null => (event.target as HTMLInputElement).value || null
const worst = (p: SafetyView['permissions'][number]) => p.findings[0]?.level
</script>

<template>
  <section class="permits" aria-label="Permissions">
    <h2>Permissions</h2>
    <p class="permit-use">
      <span>This job is</span>
      <BButton
        v-for="paid in [true, false]"
        :key="String(paid)"
        size="sm"
        :aria-pressed="view.paid === paid"
        @click="view.paid === paid || frame.edit({ op: 'set paid', paid })"
        >{{ paid ? 'paid' : 'unpaid' }}</BButton
      >
      <small>What is allowed depends on the use.</small>
    </p>
    <ol>
      <li v-for="p in view.permissions" :key="p.permission.id">
        <button
          type="button"
          class="permit-row"
          :aria-expanded="open === p.permission.id"
          @click="open = open === p.permission.id ? '' : p.permission.id"
        >
          <LevelMark v-if="worst(p)" :level="worst(p)!" />
          <i v-else class="permit-held" role="img" aria-label="Holds"></i>
          <b>{{ p.permission.label }}</b>
          <span>{{ p.permission.state }}{{ p.permission.rests_on ? `, ${p.permission.rests_on}` : '' }}</span>
          <span>{{ p.permission.checked ? `looked at ${p.permission.checked}` : 'never looked at' }}</span>
          <span>{{ p.permission.until ? `until ${p.permission.until}` : '' }}</span>
        </button>
        <p v-for="f in p.findings" :key="f.code" class="permit-told">
          <LevelMark :level="f.level" /> {{ f.text }}
          <small v-if="open === p.permission.id">Why: {{ f.why }} What helps: {{ f.cures }}</small>
        </p>
        <div v-if="open === p.permission.id" class="permit-form" role="group" :aria-label="p.permission.label">
          <label
            >What
            <TextField
              :model-value="p.permission.label"
              aria-label="What is allowed"
              :commit="(label: string) => put(p.permission, { label })"
          /></label>
          <label
            >Kind
            <ChoiceField
              :model-value="p.permission.kind ?? 'other'"
              :choices="KINDS"
              aria-label="Kind of permission"
              :commit="(kind: NonNullable<Permission['kind']>) => put(p.permission, { kind })"
          /></label>
          <label
            >State
            <ChoiceField
              :model-value="p.permission.state ?? 'to ask'"
              :choices="STATES"
              aria-label="State of the permission"
              :commit="(state: NonNullable<Permission['state']>) => put(p.permission, { state })"
          /></label>
          <label
            >Rests on
            <ChoiceField
              :model-value="p.permission.rests_on ?? ''"
              :choices="RESTS"
              aria-label="What the permission rests on"
              :commit="(rests_on: NonNullable<Permission['rests_on']>) => put(p.permission, { rests_on })"
          /></label>
          <label
            >By
            <TextField
              :model-value="p.permission.by"
              aria-label="Who gives it"
              :commit="(by: string) => put(p.permission, { by })"
          /></label>
          <label
            >Asked by
            <TextField
              :model-value="p.permission.asked_by"
              aria-label="Who asks for it"
              :commit="(asked_by: string) => put(p.permission, { asked_by })"
          /></label>
          <label
            >Looked at
            <input
              class="form-control"
              type="date"
              aria-label="Day it was looked at"
              :value="p.permission.checked ?? ''"
              @change="put(p.permission, { checked: date($event) })"
          /></label>
          <label
            >Until
            <input
              class="form-control"
              type="date"
              aria-label="Last day it holds"
              :value="p.permission.until ?? ''"
              @change="put(p.permission, { until: date($event) })"
          /></label>
          <label
            >Terms
            <TextField
              :model-value="p.permission.terms"
              aria-label="Terms of the permission"
              :commit="(terms: string) => put(p.permission, { terms })"
          /></label>
          <BFormCheckbox
            :model-value="p.permission.unpaid_only ?? false"
            @update:model-value="put(p.permission, { unpaid_only: $event === true })"
            >for unpaid use only</BFormCheckbox
          >
          <p class="permit-parts">
            <span>Needed in</span>
            <BButton
              v-for="part in parts"
              :key="part.id"
              size="sm"
              :aria-pressed="!p.permission.parts?.length || p.permission.parts.includes(part.id)"
              @click="tickPart(p.permission, part.id)"
              >{{ part.label }}</BButton
            >
          </p>
          <p class="acts">
            <BButton @click="copy(p.permission)">Copy</BButton>
            <BButton @click="frame.edit({ op: 'remove permission', permission: p.permission.id })">Remove</BButton>
          </p>
        </div>
      </li>
    </ol>
    <p v-for="f in view.missing" :key="f.text" class="permit-told">
      <LevelMark :level="f.level" /> {{ f.text }}{{ ' ' }}
      <BButton size="sm" @click="add(f.port as NonNullable<Permission['kind']>, `For ${f.port ?? ''}`)"
        >Note it</BButton
      >
    </p>
    <BButton @click="add()">Add a permission</BButton>
  </section>
</template>

<style>
.permits ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
.permit-use {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  margin: 0 0 var(--gap-4);
}
.permits .permit-row {
  display: grid;
  grid-template-columns: 22px minmax(160px, 1.3fr) minmax(130px, 1fr) 160px 120px;
  gap: var(--gap-5);
  align-items: center;
}
.permits li {
  border-bottom: 1px solid var(--rule-2);
}
.permits button.permit-row {
  width: 100%;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  padding: var(--gap-4) 0;
  min-height: 44px;
}
.permit-held {
  width: 12px;
  height: 12px;
  border: 2px solid var(--ink-3);
  justify-self: center;
}
.permit-told {
  margin: 0 0 var(--gap-4) 32px;
}
.permit-form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: var(--gap-5);
  align-items: end;
  padding: var(--gap-4) 0 var(--gap-7) 32px;
}
.permit-form label {
  display: grid;
  font-size: var(--t-3);
}
.permit-parts,
.permit-form .acts {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  margin: 0;
}
@media (max-width: 760px) {
  .permits .permit-row {
    grid-template-columns: 22px 1fr auto;
  }
  .permit-row span:nth-of-type(n + 2) {
    display: none;
  }
  .permit-form,
  .permit-told {
    padding-left: 0;
    margin-left: 0;
  }
}
</style>
