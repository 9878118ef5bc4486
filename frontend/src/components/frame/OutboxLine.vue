<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import { clockOf } from '../../lib/format'
import { useMe } from '../../stores/me'
import { useOutbox } from '../../stores/outbox'

/** What was noted here and is not sent yet; what cannot be taken as it is, is asked. */
const outbox = useOutbox()
const me = useMe()
const open = ref(false)
const giving = ref(0)
const clashes = computed(() => outbox.row.filter((n) => n.state === 'clash').length)
const others = computed(() => outbox.row.filter((n) => n.who !== me.name))
const behind = computed(() => {
  const minutes = Math.round(Math.abs(outbox.clockOff) / 60_000)
  const said = minutes < 120 ? `${String(minutes)} min` : `${String(Math.round(minutes / 60))} h`
  return outbox.clockOff ? `${said} ${outbox.clockOff > 0 ? 'slow' : 'fast'}` : ''
})
</script>

<template>
  <section v-if="outbox.row.length || behind" class="outbox" aria-label="Not sent yet">
    <p v-if="behind">This device’s clock is {{ behind }}; what is noted here has the server’s time.</p>
    <template v-if="outbox.row.length">
      <p>
        <BButton class="outbox-open" :aria-expanded="open" @click="open = !open"
          ><b>{{ outbox.row.length }} not sent yet</b></BButton
        >
        <span v-if="clashes" class="asked">{{ clashes }} to be asked</span>
      </p>
      <ol v-if="open || clashes">
        <li v-for="n in outbox.row" :key="n.n" :class="{ clash: n.state === 'clash' }">
          <span
            ><time>{{ clockOf(new Date(n.at)) }}</time> {{ n.words }}
            <small v-if="n.who !== me.name">noted by {{ n.who }}, who has to sign in to send it</small></span
          >
          <template v-if="n.state === 'clash'">
            <span class="why">{{ n.why }}</span>
            <span class="acts">
              <BButton v-if="n.asked" variant="primary" @click="outbox.sure(n)">Yes, it was so</BButton>
              <BButton v-else @click="outbox.again(n)">Send it again</BButton>
              <BButton v-if="giving !== n.n" @click="giving = n.n">Give it up</BButton>
              <BButton v-else variant="warning" @click="outbox.giveUp(n)">It was not so; forget it</BButton>
            </span>
          </template>
        </li>
      </ol>
      <p v-if="others.length && open">Nothing of it is lost by signing out or closing the page.</p>
    </template>
  </section>
</template>

<style>
.outbox {
  padding: var(--gap-3) var(--gap-7);
  font-size: var(--t-3);
  background: var(--sheet);
  border-left: 5px solid var(--mark);
  border-bottom: 1px solid var(--rule-2);
}
.outbox p {
  margin: 0;
}
.outbox .asked,
.outbox .why {
  color: var(--stop);
  font-weight: 600;
}
.outbox .asked {
  margin-left: var(--gap-6);
}
.outbox ol {
  list-style: none;
  margin: var(--gap-3) 0 0;
  padding: 0;
  max-height: 40dvh;
  overflow-y: auto;
}
.outbox li {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-4) 0;
  border-top: 1px solid var(--rule-2);
}
.outbox .acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
.outbox small {
  color: var(--ink-2);
}
.outbox time {
  font-family: var(--figures);
}
@media (max-width: 760px) {
  /* Whatever is scrolled to, it is seen that something is not sent. */
  .outbox {
    position: fixed;
    inset: auto 0 52px;
    z-index: 9;
    padding: var(--gap-4) var(--gap-6);
    border-top: 1px solid var(--rule);
  }
  .frame:has(> .foot) .outbox {
    bottom: 118px;
  }
  .frame:has(.outbox) {
    padding-bottom: 112px;
  }
  .frame:has(.outbox):has(> .foot) {
    padding-bottom: 178px;
  }
  .outbox .btn {
    min-height: 44px;
  }
}
@media print {
  .outbox {
    display: none;
  }
}
</style>
