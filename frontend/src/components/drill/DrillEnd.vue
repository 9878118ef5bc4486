<script setup lang="ts">
import type { ResultView } from '../../api/schema.gen'

/** How it ended, what the best did, and what every part of it teaches, in plain words first. */
defineProps<{ result: ResultView }>()
</script>

<template>
  <section class="drill-end" aria-label="How it ended">
    <p class="drill-points" :class="{ won: result.won }">
      <strong>{{ result.points }}</strong> of 100 <span>{{ result.won ? 'Done' : 'Not yet' }}: {{ result.said }}</span>
    </p>
    <p><b>The best:</b> {{ result.best }}</p>
    <ol>
      <li v-for="(l, i) in result.lessons" :key="i" :class="{ got: l.got }">
        <b>{{ l.got ? 'Had it' : 'Missed' }}</b> {{ l.plain }}
        <small>{{ l.technical }}</small>
        <small>Why: {{ l.why }}</small>
        <small v-if="l.cure">What to do: {{ l.cure }}</small>
      </li>
    </ol>
    <p v-if="result.others.length > 1" class="quiet">
      Best of each: {{ result.others.map((o) => `${o.person} ${String(o.points)}`).join(', ') }}
    </p>
  </section>
</template>

<style>
.drill-end {
  padding: var(--gap-6) 0;
  max-width: 860px;
}
.drill-points strong {
  font: 700 var(--t-8) var(--figures);
  color: var(--stop);
}
.drill-points.won strong {
  color: var(--mark);
}
.drill-points span {
  font: 700 var(--t-5) var(--text);
}
.drill-end li {
  border-top: 1px solid var(--rule);
  padding: var(--gap-4) 0;
}
.drill-end li > b {
  color: var(--stop);
}
.drill-end li.got > b {
  color: var(--mark);
}
.drill-end small {
  display: block;
  color: var(--ink-2);
}
</style>
