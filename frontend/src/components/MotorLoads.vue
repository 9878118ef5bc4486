<script setup lang="ts">
import type { MotorLoadView } from '../api/schema.gen'
import { fixed } from '../lib/format'
import LevelMark from './LevelMark.vue'

defineProps<{ loads: readonly MotorLoadView[] }>()
</script>

<template>
  <div class="motors">
    <h3>What each motor holds at worst</h3>
    <div v-for="l in loads" :key="l.axis" class="motor" :class="l.level">
      <span class="axis-name">{{ l.axis }}</span>
      <span class="track" role="img" :aria-label="`${l.axis} ${(l.share * 100).toFixed(0)} percent`"><i :style="{ width: `${Math.min(l.share * 100, 100)}%` }"></i><u :style="{ left: `${Math.min((l.pull_nm / l.rated_nm) * 100, 100)}%` }"></u></span>
      <b>{{ fixed(l.share * 100, 0) }} %</b><LevelMark :level="l.level" :size="14" />
      <small>{{ fixed(l.torque_nm, 3) }} of {{ fixed(l.rated_nm, 2) }} N·m<template v-if="l.pull_nm">, {{ fixed(l.pull_nm * 1000, 0) }} mN·m of it cables</template></small>
    </div>
  </div>
</template>
