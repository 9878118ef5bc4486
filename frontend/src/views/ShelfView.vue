<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, nextTick, onScopeDispose, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { unitsAddress } from '../api'
import ChoiceField from '../components/fields/ChoiceField.vue'
import type { Findable } from '../components/frame/FinderDialog.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import AddGear from '../components/shelf/AddGear.vue'
import AddUnits from '../components/shelf/AddUnits.vue'
import ImportPanel from '../components/shelf/ImportPanel.vue'
import InterfacePanel from '../components/shelf/InterfacePanel.vue'
import ModelEditor from '../components/shelf/ModelEditor.vue'
import UnitPanel from '../components/shelf/UnitPanel.vue'
import type { KeyLine } from '../composables/useKeys'
import { useRoving } from '../composables/useRoving'
import { interfaceChoices } from '../lib/fields'
import { grams } from '../lib/format'
import { onHappening } from '../lib/happenings'
import { useShelf } from '../stores/shelf'

const props = defineProps<{ job: string; part: string; rig: string }>()
const shelf = useShelf()
const route = useRoute()
const list = ref<HTMLElement | null>(null)
const words = ref<InstanceType<typeof BFormInput> | null>(null)
const { onKeydown, focusOn } = useRoving(list)
const panel = ref<'unit' | 'model' | 'import' | 'interfaces' | 'units' | 'gear'>('unit')
const blank = ref(false)

watch(
  () => [props.job, props.part] as const,
  async ([job, part]) => {
    await Promise.all([shelf.learnInterfaces(), shelf.look({ job, part })])
    const wanted =
      typeof route.query.unit === 'string' ? route.query.unit : shelf.chosen ? undefined : shelf.found?.units[0]?.unit
    if (wanted) await shelf.openUnit(wanted)
  },
  { immediate: true },
)

watch(
  () => route.query.unit,
  (unit) => {
    if (typeof unit === 'string') void open(unit)
  },
)

/** What others change of the shelf is seen here too. */
const others = useDebounceFn(() => shelf.again(), 250)
onScopeDispose(
  onHappening((heard) => {
    if (heard.kind === 'shelf' || heard.kind === 'anew') void others()
  }),
)

const kinds = computed(() => Object.entries(shelf.found?.kinds ?? {}).sort(([a], [b]) => a.localeCompare(b)))
const interfaces = computed(() => [{ value: '', text: 'any interface' }, ...interfaceChoices(shelf.interfaces)])
/** What is typed is here first: an answer to an earlier letter does not take it away. */
const text = ref(shelf.asked.words)
const type = useDebounceFn((words: string) => shelf.look({ words }), 90)

async function open(unit: string): Promise<void> {
  panel.value = 'unit'
  blank.value = false
  await shelf.openUnit(unit)
}

function newModel(): void {
  blank.value = true
  panel.value = 'model'
}

async function saved(): Promise<void> {
  // A model that nobody has a unit of is in no list: the next thing is to say how many there are.
  if (blank.value && shelf.model) panel.value = 'units'
  blank.value = false
  await shelf.look()
}

async function added(units: string[], model = ''): Promise<void> {
  await shelf.look()
  if (units[0]) await open(units[0])
  else if (model) {
    await shelf.openModel(model)
    panel.value = 'units'
  }
}
function addGear(): void {
  panel.value = 'gear'
}

const keys: KeyLine[] = [
  {
    keys: 's',
    does: 'to the search; it narrows as you type',
    run: () => {
      words.value?.focus()
    },
  },
  { keys: 'b', does: 'to the list; ↑ ↓ walk it, Enter opens', run: () => focusOn() },
  {
    keys: 'e',
    does: 'edit the ports of the model',
    run: () => {
      blank.value = false
      panel.value = 'model'
    },
  },
  { keys: 'a', does: 'add gear', run: addGear },
  {
    keys: 'i',
    does: 'read units from a CSV',
    run: () => {
      panel.value = 'import'
    },
  },
]

function findables(): Findable[] {
  return (shelf.found?.units ?? []).map((u) => ({ kind: u.kind, name: u.unit, more: u.title, go: () => open(u.unit) }))
}

async function clear(): Promise<void> {
  shelf.clear()
  text.value = ''
  await shelf.look()
  await nextTick()
  words.value?.focus()
}

async function modelGone(): Promise<void> {
  shelf.leave()
  leaveModel()
  await shelf.look()
}

function leaveModel() {
  panel.value = 'unit'
  blank.value = false
}
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="shelf" :keys="keys" :findables="findables">
    <main class="shelf" :class="{ adding: panel === 'gear' }">
      <h1 class="visually-hidden">The shelf</h1>
      <section class="asking" aria-label="What is looked for">
        <BFormInput
          ref="words"
          v-model="text"
          class="find-input"
          type="search"
          aria-label="Words"
          placeholder="label, maker, name, note"
          @update:model-value="type(text)"
          @keydown.down.prevent="focusOn()"
        />
        <div class="fits">
          <ChoiceField
            :model-value="shelf.asked.side"
            aria-label="Which way it fits"
            :choices="[
              { value: '', text: 'has' },
              { value: 'takes', text: 'takes' },
              { value: 'goes on', text: 'goes on' },
            ]"
            :commit="(side: '' | 'takes' | 'goes on') => shelf.look({ side })"
          />
          <ChoiceField
            :model-value="shelf.asked.interface"
            aria-label="Interface it fits"
            :choices="interfaces"
            :commit="(id: string) => shelf.look({ interface: id })"
          />
        </div>
        <div class="fits">
          <BFormCheckbox
            :model-value="shelf.asked.free_only"
            @update:model-value="shelf.look({ free_only: $event === true })"
            >free in this part of the day</BFormCheckbox
          >
          <ChoiceField
            :model-value="shelf.asked.owner"
            aria-label="Owner"
            :choices="[
              { value: '', text: 'own and hired' },
              { value: 'owned', text: 'own' },
              { value: 'hired', text: 'hired' },
            ]"
            :commit="(owner: '' | 'owned' | 'hired') => shelf.look({ owner })"
          />
        </div>
        <div class="kind-row" role="group" aria-label="Kind">
          <BButton :aria-pressed="shelf.asked.kind === ''" @click="shelf.look({ kind: '' })">all</BButton>
          <BButton
            v-for="[kind, count] in kinds"
            :key="kind"
            :aria-pressed="shelf.asked.kind === kind"
            @click="shelf.look({ kind: shelf.asked.kind === kind ? '' : kind })"
          >
            {{ kind }} <small>{{ count }}</small>
          </BButton>
        </div>
        <p class="count">
          <b>{{ shelf.found?.total ?? 0 }}</b> {{ shelf.found?.total === 1 ? 'unit' : 'units' }}
          <BButton
            v-if="
              shelf.asked.words ||
              shelf.asked.kind ||
              shelf.asked.interface ||
              shelf.asked.owner ||
              shelf.asked.free_only
            "
            @click="clear"
          >
            Show all
          </BButton>
        </p>
        <div class="shelf-acts">
          <BButton variant="primary" @click="addGear">Add gear</BButton>
          <BButton @click="panel = 'interfaces'">Interfaces</BButton>
          <BButton @click="panel = 'import'">Read CSV</BButton>
          <BLink class="btn btn-secondary" :href="unitsAddress" download="shelf.csv">Save CSV</BLink>
        </div>
      </section>
      <section v-show="panel !== 'gear'" ref="list" class="units" aria-label="Units" @keydown="onKeydown">
        <p v-if="shelf.problem" class="trouble">{{ shelf.problem.message }}</p>
        <p v-if="shelf.found && !shelf.found.total" class="quiet">
          Nothing on the shelf matches. Try fewer words, or add gear.
        </p>
        <ul>
          <li
            v-for="u in shelf.found?.units ?? []"
            :key="u.unit"
            :class="{ chosen: panel === 'unit' && u.unit === shelf.chosen }"
          >
            <button type="button" class="unit-line" data-rove :data-unit="u.unit" @click="open(u.unit)">
              <span class="unit">{{ u.unit }}</span>
              <span class="what">{{ u.title }}</span>
              <span class="mass" :class="u.mass_source">{{ u.mass_g === null ? '? g' : `${grams(u.mass_g)} g` }}</span>
              <span class="tags">
                <span v-if="u.owner === 'hired'" class="hired">hired</span>
                <span v-if="u.health < 1">{{ Math.round(u.health * 100) }} % left</span>
                <span v-if="u.condition !== 'good'" :class="u.condition === 'doubtful' ? 'watch' : 'stop'">{{
                  u.condition
                }}</span>
                <span v-if="u.taken" class="taken">{{ u.taken }}</span>
              </span>
            </button>
          </li>
        </ul>
        <button
          v-if="shelf.found && shelf.found.units.length < shelf.found.total"
          type="button"
          class="ask"
          data-rove
          @click="shelf.more()"
        >
          Show more of {{ shelf.found.total }}
        </button>
      </section>
      <section class="shelf-side">
        <ImportPanel v-if="panel === 'import'" @done="saved" @close="panel = 'unit'" />
        <InterfacePanel v-else-if="panel === 'interfaces'" @close="panel = 'unit'" />
        <AddGear
          v-else-if="panel === 'gear'"
          @added="added"
          @close="panel = 'unit'"
          @by-hand="newModel"
          @csv="panel = 'import'"
        />
        <ModelEditor
          v-else-if="panel === 'model'"
          :blank="blank"
          @saved="saved"
          @close="leaveModel"
          @copied="blank = true"
          @removed="modelGone"
        />
        <AddUnits
          v-else-if="panel === 'units' && shelf.model"
          :model="shelf.model.model.id"
          :title="`${shelf.model.model.maker} ${shelf.model.model.name}`.trim()"
          @added="added"
          @close="panel = 'unit'"
        />
        <UnitPanel
          v-else
          :place="{ job, part, rig }"
          @edit-model="panel = 'model'"
          @saved="saved"
          @more="panel = 'units'"
          @removed="shelf.look()"
        />
      </section>
    </main>
  </FrameShell>
</template>

<style>
.shelf {
  display: grid;
  grid-template-columns: 244px minmax(0, 1fr) 430px;
  overflow: hidden;
}
.shelf.adding {
  grid-template-columns: 244px minmax(0, 1fr);
}
.shelf.adding .shelf-side {
  overflow: hidden;
}
.asking {
  padding: var(--gap-6);
  border-right: 1px solid var(--rule);
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: var(--gap-5);
}
.asking .find-input {
  font-size: var(--t-5);
}
.fits {
  display: flex;
  gap: var(--gap-3);
  flex-wrap: wrap;
  font-size: var(--t-3);
}
.fits .form-select {
  min-width: 0;
  max-width: 100%;
}
.fits .form-select + .form-select {
  flex: 1 1 0;
}
.kind-row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-1);
}
.kind-row .btn {
  --bs-btn-border-color: var(--rule-2);
  --bs-btn-font-size: var(--t-2);
  --bs-btn-padding-x: var(--gap-4);
  min-height: 24px;
}
.kind-row small {
  opacity: 0.7;
}
.count b {
  font: 600 var(--t-6) var(--figures);
}
.shelf-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  margin-top: auto;
}
.units {
  overflow-y: auto;
  border-right: 1px solid var(--rule);
  scrollbar-width: thin;
}
.units li {
  border-bottom: 1px solid var(--rule-2);
}
.unit-line {
  width: 100%;
  display: grid;
  grid-template: 'unit what mass' auto 'tags tags tags' auto / 84px minmax(0, 1fr) auto;
  gap: 0 var(--gap-5);
  padding: var(--gap-4) var(--gap-7);
  align-items: baseline;
}
.unit-line:hover {
  background: var(--lift);
}
.unit-line .what {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.unit-line .tags {
  grid-area: tags;
  display: flex;
  gap: var(--gap-6);
  padding-left: 92px;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.tags .watch,
.tags .hired {
  color: var(--watch);
}
.tags .stop {
  color: var(--stop);
}
.tags:empty {
  display: none;
}
.shelf-side {
  overflow-y: auto;
  scrollbar-width: thin;
}
.shelf-side header {
  display: flex;
  gap: var(--gap-4);
  align-items: baseline;
  flex-wrap: wrap;
  padding: var(--gap-5) var(--gap-7);
  background: var(--mark-wash);
}
.shelf-side h2 {
  flex: 1;
  font: 600 var(--t-6)/1.2 var(--text);
}
.shelf-side h2.unit {
  flex: 0 0 auto;
  font-family: var(--figures);
}
@media (max-width: 760px) {
  .shelf {
    grid-area: bench;
    overflow: visible;
  }
  .kind-row {
    flex-wrap: nowrap;
    overflow-x: auto;
    scrollbar-width: none;
  }
  .kind-row button {
    flex: none;
  }
  .shelf {
    display: block;
  }
  .asking {
    border: 0;
  }
  .unit-line {
    padding: var(--gap-7) var(--gap-7);
  }
  .kind-row .btn,
  .fits .form-select,
  .shelf-acts .btn {
    min-height: 42px;
  }
}
</style>
