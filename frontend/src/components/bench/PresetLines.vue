<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { ref } from 'vue'
import { useBench } from '../../stores/bench'

/** Settings kept under names, each with what changes when it is used; and what is set now, to be kept. */
const bench = useBench()
const label = ref('')
async function keep(): Promise<void> {
  const name = label.value.trim()
  if (name && (await bench.edit({ op: 'keep preset', label: name }))) label.value = ''
}
</script>

<template>
  <div class="presets">
    <div v-for="p in bench.view?.presets ?? []" :key="p.label" class="preset" :class="{ now: p.now }">
      <span class="called"
        ><b>{{ p.label }}</b> {{ p.now ? 'set now' : p.told.length ? '' : 'no jump' }}</span
      >
      <BButton
        v-if="!p.now"
        :aria-label="`Set it to ${p.label}`"
        @click="bench.edit({ op: 'use preset', label: p.label })"
        >Use</BButton
      >
      <BButton :aria-label="`Forget preset ${p.label}`" @click="bench.edit({ op: 'drop preset', label: p.label })"
        >Forget</BButton
      >
      <small v-for="line in p.now ? [] : p.told" :key="line">{{ line }}</small>
    </div>
    <form class="setting" @submit.prevent="keep">
      <BFormInput
        v-model="label"
        maxlength="60"
        placeholder="keep as preset…"
        aria-label="Keep these settings as preset"
      />
      <BButton type="submit" :disabled="!label.trim()">Keep</BButton>
    </form>
  </div>
</template>

<style>
.presets {
  display: grid;
  gap: var(--gap-2);
}
.preset {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-1) var(--gap-4);
  align-items: center;
  border-left: 3px solid var(--rule);
  padding-left: var(--gap-4);
}
.preset.now {
  border-left-color: var(--mark);
}
.preset .called {
  flex: 1;
}
.preset small {
  flex-basis: 100%;
  color: var(--ink-2);
}
.presets .setting {
  display: flex;
  gap: var(--gap-3);
}
.presets .setting .form-control {
  flex: 1;
  width: auto;
  font-family: var(--text);
}
</style>
