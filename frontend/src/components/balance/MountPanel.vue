<script setup lang="ts">
import type { Mounted } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

defineProps<{ mount: Mounted }>()
</script>

<template>
  <section class="balance-main mount-panel">
    <h2 class="visually-hidden">Holding points</h2>
    <div class="verdict-line">
      <p>
        <b>{{ fixed(mount.held, 1) }}</b> times what it must hold, by {{ mount.points.length }} points
      </p>
    </div>
    <div class="under">
      <div>
        <h3>Points</h3>
        <p v-for="(p, i) in mount.points" :key="i" class="arm-line">
          <span>{{ p.by }} {{ i + 1 }}</span
          ><span></span><span>{{ p.moment_nm == null ? 'no moment' : `${fixed(p.moment_nm, 1)} N·m` }}</span
          ><b>{{ fixed(p.pull_off_n, 0) }} N</b>
        </p>
      </div>
      <div>
        <h3>Against its load of {{ fixed(mount.load_n, 0) }} N, {{ mount.handling }}</h3>
        <p class="hold-line">
          <span>off the face, over {{ mount.margin }} times the load</span><b>{{ fixed(mount.off_face, 1) }} ×</b>
        </p>
        <p v-if="mount.along_face !== null" class="hold-line">
          <span>along the face, over {{ mount.margin }} times the load</span><b>{{ fixed(mount.along_face, 1) }} ×</b>
        </p>
        <p v-if="mount.along_face !== null" class="hold-line">
          <span>against peeling off it, over {{ mount.margin }} times the load</span
          ><b>{{ mount.peel === null ? 'not known where its points are' : `${fixed(mount.peel, 1)} ×` }}</b>
        </p>
        <p class="hold-line">
          <span>{{
            mount.planned_m_s ? `at ${fixed(mount.planned_m_s * 3.6, 0)} km/h, rated for` : 'it stands still; rated for'
          }}</span><b>{{ mount.rated_m_s === null ? 'no speed' : `${fixed(mount.rated_m_s * 3.6, 0)} km/h` }}</b>
        </p>
        <p class="hold-line">
          <span>caught by</span><b>{{ mount.line ?? 'nothing' }}</b>
        </p>
      </div>
    </div>
    <slot></slot>
  </section>
</template>
