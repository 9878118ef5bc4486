<script setup lang="ts">
import type { CountsView } from '../../api/schema.gen'
import { onStrap, PLACES, type PlaceName } from '../../lib/places'
import { vTip } from '../../lib/tip'
import { useAppearance } from '../../stores/appearance'
import CountMarks from './CountMarks.vue'

defineProps<{ place: PlaceName; counts: Record<string, CountsView> }>()
const emit = defineEmits<{ go: [place: PlaceName]; find: []; keys: [] }>()
const appearance = useAppearance()
</script>

<template>
  <nav class="strap" aria-label="Places">
    <button
      v-for="p in PLACES"
      :key="p.name"
      v-tip.right="`${p.what} (g ${p.number})`"
      type="button"
      class="place"
      :class="{ here: p.name === onStrap(place) }"
      :aria-current="p.name === onStrap(place) ? 'page' : undefined"
      @click="emit('go', p.name)"
    >
      <b>{{ p.label }}</b><CountMarks v-if="counts[p.name]" :counts="counts[p.name]!" />
    </button>
    <span class="rest"></span>
    <button v-tip.right="'Find (/)'" type="button" aria-label="Find anything" @click="emit('find')">Find</button>
    <button
      v-tip.right="'Keys (?)'"
      type="button"
      class="for-keys"
      aria-label="Keys of this screen"
      @click="emit('keys')"
    >
      Keys
    </button>
    <button
      v-tip.right="'Day or night (n)'"
      type="button"
      :aria-label="appearance.now === 'day' ? 'Night appearance' : 'Day appearance'"
      @click="appearance.toggle()"
    >
      {{ appearance.now === 'day' ? 'Night' : 'Day' }}
    </button>
  </nav>
</template>

<style>
.strap {
  grid-area: strap;
  background: var(--ink);
  color: #d7ddd3;
  display: flex;
  flex-direction: column;
  align-items: stretch;
  font-size: var(--t-3);
}
html[data-appearance='night'] .strap {
  background: #060807;
  color: #8d988e;
}
.strap .place {
  padding: var(--gap-7) var(--gap-4) var(--gap-6);
  text-align: center;
  border-left: 4px solid var(--mark);
  background: rgb(255 255 255 / 0.08);
}
.strap .place .counts {
  flex-direction: column;
  gap: var(--gap-1);
  align-items: center;
  margin-top: var(--gap-4);
}
.strap .counts .stop {
  color: #f0a877;
}
.strap .counts .watch {
  color: #a8c3f0;
}
.strap .rest {
  flex: 1;
}
.strap button {
  padding: var(--gap-6) var(--gap-3);
  text-align: center;
  border-top: 1px solid rgb(255 255 255 / 0.12);
}
.strap button:hover {
  background: rgb(255 255 255 / 0.1);
}
@media (max-width: 760px) {
  .strap {
    flex-direction: row;
    position: fixed;
    inset: auto 0 0;
    z-index: 11;
    height: 52px;
    overflow-x: auto;
    scrollbar-width: none;
  }
  .strap .place,
  .strap .rest,
  .strap .for-keys {
    display: none;
  }
  .strap button {
    flex: 1;
    min-height: 48px;
    border-top: 0;
  }
}
.strap .place {
  border-left: 4px solid transparent;
  border-top: 0;
  background: none;
}
.strap .place.here {
  border-left-color: var(--mark);
  background: rgb(255 255 255 / 0.08);
}
@media print {
  .strap {
    display: none !important;
  }
}
@media (max-width: 760px) {
  .strap .place {
    display: block;
    padding: var(--gap-6) var(--gap-3);
    border-left: 0;
    border-top: 3px solid transparent;
  }
  .strap .place.here {
    border-top-color: var(--mark);
  }
  .strap .place .counts {
    display: none;
  }
}
@media print {
  .at-swaps .strap {
    display: none;
  }
}
</style>
