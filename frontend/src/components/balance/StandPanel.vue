<script setup lang="ts">
import type { TipOver } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

defineProps<{ stand: TipOver }>()
</script>

<template>
  <div class="stand-panel">
    <h3>In the wind on {{ stand.stand }}</h3>
    <p v-if="stand.legs === 'monopod'" class="quiet">A monopod stands by hand alone; it is not judged for wind.</p>
    <template v-else>
      <p class="head-verdict">
        <b>{{ stand.safe_m_s === null ? '–' : fixed(stand.safe_m_s, 0) }}</b> m/s it stands with margin; gusts of
        {{ fixed(stand.gust_m_s, 1) }} m/s are expected
      </p>
      <p class="quiet">
        {{ fixed(stand.mass_g / 1000, 1) }} kg, {{ fixed(stand.edge_mm, 0) }} mm from the edge of its feet, CG
        {{ fixed(stand.high_mm, 0) }} mm high, {{ fixed(stand.area_m2, 3) }} m² in the wind; over at
        {{ stand.tips_m_s === null ? 'no wind' : `${fixed(stand.tips_m_s, 0)} m/s` }}.
      </p>
    </template>
  </div>
</template>
