<script setup lang="ts">
import { onKeyStroke } from '@vueuse/core'
import { ref, watch } from 'vue'
import type { CountsView } from '../../api/schema.gen'
import { useUsedPlaces } from '../../composables/useUsedPlaces'
import { onStrap, PLACES, type PlaceName } from '../../lib/places'
import { vTip } from '../../lib/tip'
import { useAppearance } from '../../stores/appearance'
import { useMe } from '../../stores/me'
import CountMarks from './CountMarks.vue'

const props = defineProps<{ place: PlaceName; counts: Record<string, CountsView> }>()
const emit = defineEmits<{ go: [place: PlaceName]; find: []; keys: []; crew: [] }>()
const me = useMe()
const appearance = useAppearance()
const used = useUsedPlaces()
watch(() => props.place, used.note, { immediate: true })
/** What a phone does not show beside the four places most used. */
const more = ref(false)
onKeyStroke('Escape', () => (more.value = false))
function act(what: () => void): void {
  more.value = false
  what()
}
</script>

<template>
  <nav class="strap" :class="{ opened: more }" aria-label="Places">
    <button
      v-for="p in PLACES"
      :key="p.name"
      v-tip.right="`${p.what} (g ${p.number})`"
      type="button"
      class="place"
      :class="{ here: p.name === onStrap(place), behind: !used.shown.includes(p.name) }"
      :aria-current="p.name === onStrap(place) ? 'page' : undefined"
      @click="act(() => emit('go', p.name))"
    >
      <b>{{ p.label }}</b><CountMarks v-if="counts[p.name]" :counts="counts[p.name]!" />
    </button>
    <span class="rest"></span>
    <button
      v-tip.right="'Find (/)'"
      type="button"
      class="behind"
      aria-label="Find anything"
      @click="act(() => emit('find'))"
    >
      Find
    </button>
    <button
      v-tip.right="'Keys (?)'"
      type="button"
      class="for-keys behind"
      aria-label="Keys of this screen"
      @click="act(() => emit('keys'))"
    >
      Keys
    </button>
    <button
      v-tip.right="'Day or night (n)'"
      type="button"
      class="behind"
      :aria-label="appearance.now === 'day' ? 'Night appearance' : 'Day appearance'"
      @click="act(() => appearance.toggle())"
    >
      {{ appearance.now === 'day' ? 'Night' : 'Day' }}
    </button>
    <button v-tip.right="'Who works on this job'" type="button" class="behind" @click="act(() => emit('crew'))">
      {{ me.me?.signed_in ? me.name : 'Crew' }}
    </button>
    <button
      type="button"
      class="more"
      :class="{ here: !used.shown.includes(onStrap(place)) }"
      :aria-expanded="more"
      @click="more = !more"
    >
      More
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
.strap .more {
  display: none;
}
@media (max-width: 760px) {
  .strap {
    display: grid;
    grid-template-columns: repeat(5, minmax(0, 1fr));
    position: fixed;
    inset: auto 0 0;
    z-index: 11;
    min-height: 52px;
  }
  .strap .rest,
  .strap .behind {
    display: none;
  }
  .strap .more {
    display: block;
    border-top: 3px solid transparent;
  }
  .strap .more.here,
  .strap .more[aria-expanded='true'] {
    border-top-color: var(--mark);
  }
  .strap.opened .behind {
    display: block;
    grid-row: 1;
    border-bottom: 1px solid rgb(255 255 255 / 0.12);
  }
  .strap.opened > :not(.behind) {
    grid-row: 2;
  }
  .strap button {
    min-height: 48px;
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
