<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { readAdds, type Operation } from '../../api'
import type { AddsView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import EffectLine from './EffectLine.vue'
import PickerFrame from './PickerFrame.vue'

/** A few letters of anything: its best place is shown on the drawing; Enter takes it and waits for the next. */
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load } = useLoad<AddsView>()
const words = ref('')
const input = ref<InstanceType<typeof BFormInput> | null>(null)
const at = ref(0)
const added = ref<string[]>([])
const said = ref('')
/** Parts that were taken while the one before was still on its way. */
let line: Promise<unknown> = Promise.resolve()
/** The letters that belong to what is shown; nothing while something newer is on its way. */
let shown: string | null = null

const places = computed(() => found.value?.places ?? [])
const place = computed(() => places.value[at.value])
const matches = computed(() => found.value?.matches ?? [])

async function look(unit = ''): Promise<void> {
  const here = job.place
  const typed = words.value
  if (!here || !(await load(() => readAdds(here, typed, unit)))) return
  shown = typed
  at.value = 0
  show()
}
const type = useDebounceFn(() => look(), 60)

function show(): void {
  if (place.value) void bench.tryOut(place.value.operations as Operation[])
  else bench.tryNothing()
}

function turn(by: number): void {
  const count = places.value.length
  if (!count) return
  at.value = (at.value + by + count) % count
  show()
}

function walk(by: number): void {
  const now = matches.value.findIndex((m) => m.unit === found.value?.unit)
  const next = matches.value[now + by]
  if (next) void look(next.unit)
}

/** What is shown if it is still what is typed; else what the letters mean by the time it is their turn. */
function take(): void {
  const typed = words.value
  const chosen =
    shown === typed && place.value ? { unit: found.value?.unit ?? '', operations: place.value.operations } : null
  if (!chosen && !typed) return
  words.value = ''
  shown = null
  line = line.then(() => put(typed, chosen)).catch(() => undefined)
}

async function put(typed: string, chosen: { unit: string; operations: AddsView['places'][0]['operations'] } | null) {
  const here = job.place
  if (!here) return
  const view = chosen ? null : await readAdds(here, typed)
  const first = view?.places[0]
  const next = chosen ?? (view && first ? { unit: view.unit, operations: first.operations } : null)
  said.value = ''
  if (!next) {
    said.value = view?.unit ? view.no_place : `Nothing free is called “${typed}”.`
  } else if (await bench.edit(...(next.operations as Operation[]))) {
    added.value = [next.unit, ...added.value]
  }
  await look()
}
watch(words, () => {
  shown = null
  void type()
})

function press(event: KeyboardEvent): void {
  const ways: Record<string, () => unknown> = {
    ArrowLeft: () => {
      turn(-1)
    },
    ArrowRight: () => {
      turn(1)
    },
    ArrowUp: () => {
      walk(-1)
    },
    ArrowDown: () => {
      walk(1)
    },
    Enter: take,
  }
  const way = ways[event.key]
  if (!way || event.altKey || event.ctrlKey) return
  event.preventDefault()
  way()
}

onMounted(async () => {
  void look()
  await nextTick()
  input.value?.focus()
})
</script>

<template>
  <PickerFrame
    label="Add to the rig"
    unit="Add"
    what="a few letters; Enter takes it"
    :more="added.length ? `On: ${added.join(', ')}` : undefined"
    :problem="problem ?? bench.problem"
    :working="found ? null : 'Searching the stock…'"
    @close="emit('close')"
  >
    <template #ask>
      <BFormInput
        ref="input"
        v-model="words"
        class="add-words"
        aria-label="What to add"
        placeholder="label, kind or name"
        autocomplete="off"
        @keydown="press"
      />
    </template>
    <p v-if="said" class="trouble" role="status">{{ said }}</p>
    <template v-if="found">
      <p v-if="!matches.length" class="quiet">No free unit matches.</p>
      <ul class="add-matches" aria-label="What it can be">
        <li v-for="m in matches" :key="m.unit" :class="{ chosen: m.unit === found.unit, unfit: !m.fits }">
          <button type="button" @click="look(m.unit)">
            <span class="unit">{{ m.unit }}</span> {{ m.title }}
            <small
              >{{ m.kind }}<template v-if="m.alike"> · {{ m.alike + 1 }} free</template
              ><template v-if="m.owner === 'hired'"> · hired</template
              ><template v-if="!m.fits && m.unit !== found.unit"> · not without an adapter</template></small
            >
          </button>
          <div v-if="m.unit === found.unit && place" class="add-place">
            <button type="button" aria-label="Place before" @click="turn(-1)">‹</button>
            <button type="button" class="go" @click="take">
              <b>{{ place.onto }}</b> {{ place.label }}
              <template v-if="place.adapter">through {{ place.adapter }}</template>
              <small>{{ at + 1 }} of {{ places.length }}</small>
              <EffectLine :effect="place.effect" />
            </button>
            <button type="button" aria-label="Next place" @click="turn(1)">›</button>
          </div>
          <p v-else-if="m.unit === found.unit" class="quiet">{{ found.no_place }}</p>
        </li>
      </ul>
    </template>
  </PickerFrame>
</template>

<style>
.add-matches li {
  border-bottom: 1px solid var(--rule-2);
}
.add-matches li > button {
  width: 100%;
  text-align: left;
  padding: var(--gap-4) var(--gap-5);
}
.add-matches li.chosen {
  background: var(--mark-wash);
  border-left: 3px solid var(--mark);
}
.add-matches li.unfit > button {
  color: var(--ink-2);
}
.add-matches small {
  color: var(--ink-2);
  display: block;
}
.add-place {
  display: grid;
  grid-template-columns: 32px 1fr 32px;
  align-items: stretch;
}
.add-place > button {
  font-size: var(--t-5);
  padding: var(--gap-3);
}
.add-place .go {
  text-align: left;
  font-size: var(--t-4);
  background: var(--lift);
}
@media (max-width: 760px) {
  .add-matches li > button,
  .add-place > button {
    min-height: 44px;
  }
  .add-place {
    grid-template-columns: 48px 1fr 48px;
  }
}
</style>
