<script setup lang="ts">
import type { WorkingView } from '../../api/schema.gen'

defineProps<{ working: WorkingView }>()
</script>

<template>
  <div class="working">
    <p class="formula">{{ working.formula }}</p>
    <p class="numbers">{{ working.numbers }}</p>
    <dl v-if="working.inputs.length">
      <template v-for="i in working.inputs" :key="i.name">
        <dt>{{ i.name }}</dt>
        <dd>
          {{ i.value }} <span :class="i.source">{{ i.source }}</span>
        </dd>
      </template>
    </dl>
  </div>
</template>
