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
