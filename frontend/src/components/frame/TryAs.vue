<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { useRouter } from 'vue-router'
import { signOut, tryAs } from '../../api'
import { useJob } from '../../stores/job'
import { useMe } from '../../stores/me'

/** Where nobody need sign in: that it is so, and whom of the demo one can be to see what each may do. */
const me = useMe()
const router = useRouter()
async function be(account: string): Promise<void> {
  await (account ? tryAs(account) : signOut())
  useJob().forget()
  await me.load()
  await router.push('/jobs')
}
</script>

<template>
  <p v-if="me.me?.open" class="try-as">
    <span v-if="me.me.signed_in"
      >You try it as <b>{{ me.name }}</b>.</span
    >
    <span v-else>Nobody signs in on this machine: whoever is at it leads.</span>
    <template v-if="me.me.tries.length">
      <span>Try it as</span>
      <BButton v-if="me.me.signed_in" @click="be('')">the lead</BButton>
      <BButton v-for="x in me.me.tries.filter((t) => t.name !== me.name)" :key="x.id" @click="be(x.id)">{{
        x.name
      }}</BButton>
    </template>
  </p>
</template>

<style>
.try-as {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-5);
  align-items: center;
  font-size: var(--t-3);
  color: var(--ink-2);
  margin: 0;
}
</style>
