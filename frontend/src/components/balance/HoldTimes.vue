<script setup lang="ts">
import type { HandsReport, Twist } from '../../api/schema.gen'
import { fixed, grams, signed } from '../../lib/format'

defineProps<{ hands: HandsReport; twists?: readonly Twist[] }>()
defineEmits<{ choose: [grip: string] }>()
const WHOLE = 30
const share = (minutes: number | null): number => Math.min(100, ((minutes ?? WHOLE) / WHOLE) * 100)
</script>

<template>
  <div class="hold-times">
    <template v-if="hands.ways.length">
      <h3>How long it can be held <small>rule of thumb; people differ</small></h3>
      <div role="radiogroup" aria-label="How it is held">
        <button
          v-for="h in hands.ways"
          :key="h.name"
          type="button"
          role="radio"
          class="hold-line"
          :aria-checked="h.chosen ?? false"
          @click="$emit('choose', h.name)"
        >
          <span
            >{{ h.name
            }}<i
              :style="{ width: `${share(h.minutes)}%` }"
              :class="{ short: (h.minutes ?? WHOLE) < hands.take_min }"
            ></i
            ><i v-if="hands.take_min > 0" class="take" :style="{ left: `${share(hands.take_min)}%` }"></i></span
          ><span>{{ grams(h.carried_g) }} g</span
          ><b>{{ h.minutes === null ? 'long' : `${fixed(h.minutes, 1)} min` }}</b>
        </button>
      </div>
      <p class="quiet">
        <template v-if="hands.take_min > 0"
          >Longest take {{ fixed(hands.take_min, 0) }} min, the upright mark{{
            hands.repeatable ? '' : '; it cannot be repeated'
          }}.</template
        ><template v-else>The part of the day says no longest take.</template> The grip with the mark is this build’s;
        choose another.
      </p>
    </template>
    <h3>Steadiness and size <small>rules of thumb</small></h3>
    <p v-if="hands.steady" class="hold-line">
      <span>steadied by {{ hands.steady.source }}</span
      ><span></span><b>{{ hands.steady.rating }} of 4</b>
    </p>
    <p v-for="(axis, i) in ['roll', 'tilt', 'pan']" :key="axis" class="hold-line">
      <span>moment of inertia, {{ axis }}</span
      ><span></span><b>{{ fixed(hands.inertia[i] ?? 0, 3) }} kg·m²</b>
    </p>
    <p v-if="hands.reaction_s !== null" class="hold-line">
      <span>from the call to rolling</span><span></span><b>{{ fixed(hands.reaction_s, 0) }} s</b>
    </p>
    <p class="hold-line">
      <span>looks {{ hands.look.size }}</span
      ><span>{{ fixed(hands.look.litres, 1) }} l</span><b>{{ grams(hands.look.mass_g) }} g</b>
    </p>
    <template v-if="twists?.length"
      ><h3>Load on the wrist, per handle</h3>
      <p v-for="t in twists" :key="t.unit" class="hold-line">
        <span>{{ t.unit }}</span><span>{{ signed(t.nose_nm, 2) }} N·m nose-down</span
        ><b>{{ signed(t.side_nm, 2) }} N·m to the left</b>
      </p></template
    >
  </div>
</template>

<style>
.hold-times h3 small {
  font-weight: 400;
  color: var(--quiet);
}
.hold-times .quiet {
  font-size: var(--t-2);
  padding: var(--gap-3) 0 var(--gap-5);
}
.hold-times .hold-line span:first-child {
  position: relative;
}
.hold-times button.hold-line {
  width: 100%;
  border: 0;
  border-left: 4px solid transparent;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  padding: var(--gap-2) 0 var(--gap-2) var(--gap-3);
  min-height: 32px;
}
.hold-times button.hold-line[aria-checked='true'] {
  border-left-color: var(--mark);
  font-weight: 600;
}
.hold-times .hold-line span:first-child i {
  display: block;
  height: 4px;
  background: var(--mark);
  margin-top: var(--gap-1);
}
.hold-times .hold-line span:first-child i.short {
  background: repeating-linear-gradient(90deg, var(--mark) 0 4px, transparent 4px 7px);
}
.hold-times .hold-line span:first-child i.take {
  position: absolute;
  bottom: -4px;
  width: 2px;
  height: 12px;
  background: var(--ink);
}
</style>
