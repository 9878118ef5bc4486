<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { useDebounceFn } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'

export interface Findable {
  kind: string
  name: string
  more: string
  go: () => unknown
}

const props = defineProps<{ all: () => Findable[]; more: (words: string) => Promise<Findable[]> }>()
const open = defineModel<boolean>({ required: true })
const MOST_HERE = 8
const MOST_FOUND = 16
const text = ref('')
const at = ref(0)
const input = ref<InstanceType<typeof BFormInput> | null>(null)
const box = ref<HTMLDialogElement | null>(null)
const beyond = shallowRef<Findable[]>([])
let asked = 0
const found = computed(() => {
  const here = onThisScreen()
  const known = new Set(here.map((x) => x.kind + x.name))
  return [...here, ...beyond.value.filter((x) => !known.has(x.kind + x.name))].slice(0, MOST_FOUND)
})
/** Beyond this screen: the whole stock, other cameras, people, settings, call-outs of all rigs. */
const look = useDebounceFn(async () => {
  const mine = ++asked
  const words = text.value.trim()
  const next = words ? await props.more(words).catch(() => []) : []
  if (mine === asked) beyond.value = next
}, 80)
function onThisScreen(): Findable[] {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props
    .all()
    .filter((x) => words.every((w) => `${x.kind} ${x.name} ${x.more}`.toLowerCase().includes(w)))
    .slice(0, MOST_HERE)
}

watch(open, async (now) => {
  if (!now) {
    box.value?.close()
    return
  }
  text.value = ''
  at.value = 0
  await nextTick()
  box.value?.showModal()
  input.value?.focus()
})
watch(text, () => {
  at.value = 0
  void look()
})

function go(item: Findable | undefined): void {
  if (!item) return
  open.value = false
  item.go()
}

function move(step: number): void {
  at.value = Math.min(Math.max(at.value + step, 0), found.value.length - 1)
}
</script>

<template>
  <!-- The browser's own dialog: it has the focus before the next key arrives, so that nothing typed becomes a command. -->
  <dialog ref="box" class="finder" aria-label="Find" @close="open = false" @click.self="open = false">
    <BFormInput
      ref="input"
      v-model="text"
      class="find-input"
      type="search"
      aria-label="Find a unit, rig, part of the day, call-out or command"
      placeholder="unit, camera, part of the day, call-out, person, setting, command"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(found[at])"
    />
    <ul class="found" role="listbox">
      <li
        v-for="(x, i) in found"
        :key="x.kind + x.name"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @click="go(x)"
      >
        <span class="kind">{{ x.kind }}</span> <b>{{ x.name }}</b> <span class="more">{{ x.more }}</span>
      </li>
      <li v-if="!found.length" class="quiet">Nothing found.</li>
    </ul>
  </dialog>
</template>

<style>
.finder {
  width: min(600px, calc(100vw - 24px));
  margin: 12vh auto auto;
  padding: var(--gap-6);
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--rule);
}
.finder::backdrop {
  background: rgb(0 0 0 / 0.45);
}
</style>
