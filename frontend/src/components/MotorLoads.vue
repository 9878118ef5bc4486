<script setup lang="ts">
import type { MotorLoadView } from '../api/schema.gen'
import { computed } from 'vue'
import { fixed } from '../lib/format'
import LevelMark from './LevelMark.vue'

const props = defineProps<{ loads: readonly MotorLoadView[] }>()
/** The motor that gives up first in wind. */
const first = computed(
  () =>
    [...props.loads]
      .filter((l) => l.gives_up_m_s !== null)
      .sort((a, b) => (a.gives_up_m_s ?? 0) - (b.gives_up_m_s ?? 0))[0],
)
</script>

<template>
  <div class="motors">
    <h3>What each motor holds at worst</h3>
    <div v-for="l in loads" :key="l.axis" class="motor" :class="l.level">
      <span class="axis-name">{{ l.axis }}</span>
      <span class="track" role="img" :aria-label="`${l.axis} ${(l.share * 100).toFixed(0)} percent`"
        ><i :style="{ width: `${Math.min(l.share * 100, 100)}%` }"></i
        ><u :style="{ left: `${Math.min((l.pull_nm / l.rated_nm) * 100, 100)}%` }"></u
      ></span>
      <b>{{ fixed(l.share * 100, 0) }} %</b><LevelMark :level="l.level" :size="14" />
      <small
        >{{ fixed(l.torque_nm, 3) }} of {{ fixed(l.rated_nm, 2) }} N·m<template v-if="l.pull_nm"
          >, {{ fixed(l.pull_nm * 1000, 0) }} mN·m of it cables</template
        ></small
      >
    </div>
    <h3>In the gusts of this part of the day</h3>
    <p v-if="first" class="gives-up">
      <b>{{ fixed(first.gives_up_m_s ?? 0, 0) }}</b> m/s of mean wind, and {{ first.axis }} gives up
    </p>
    <p v-for="l in loads" :key="l.axis" class="school">
      <span>{{ l.axis }}</span><span>{{ fixed(l.wind_nm, 3) }} N·m</span
      ><b>{{ fixed(l.wind_share * 100, 0) }} %</b> limit
      {{ l.gives_up_m_s === null ? 'no wind' : `${fixed(l.gives_up_m_s, 0)} m/s` }}
    </p>
  </div>
</template>

<style>
.motor {
  display: grid;
  grid-template-columns: 38px 1fr 52px 18px;
  gap: 0 var(--gap-5);
  align-items: center;
  padding: var(--gap-2) 0;
}
.motor .track {
  position: relative;
  height: 16px;
  background: var(--rule-2);
}
.motor i {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--ink-3);
}
.motor u {
  position: absolute;
  top: -2px;
  bottom: -2px;
  width: 2px;
  background: var(--ink);
}
.motor.watch i {
  background: var(--watch);
}
.motor.stop i {
  background: var(--stop);
}
.motor b {
  font: 600 var(--t-5) var(--figures);
  text-align: right;
  letter-spacing: -0.05em;
}
.motor small {
  grid-column: 2 / -1;
  color: var(--ink-2);
  font-size: var(--t-2);
}
.school {
  display: grid;
  grid-template-columns: 1fr 58px 42px 88px;
  white-space: nowrap;
  gap: var(--gap-4);
  font-size: var(--t-2);
  color: var(--ink-2);
}
.school b {
  font-family: var(--figures);
  color: var(--ink);
}
</style>
