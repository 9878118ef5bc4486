<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { onMounted, ref, shallowRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { changePassword, dropPasskey, endSession, endSessions, readPasskeys, readSessions, signOut } from '../api'
import type { Problem } from '../api/client'
import type { PasskeysView, SessionsView } from '../api/schema.gen'
import SecretField from '../components/fields/SecretField.vue'
import TryAs from '../components/frame/TryAs.vue'
import { useLoad } from '../composables/useLoad'
import { clock, weekday } from '../lib/format'
import { keysHere, makeKey } from '../lib/passkeys'
import { useMe } from '../stores/me'

const router = useRouter()
const me = useMe()
const { found, load, show } = useLoad<SessionsView>()
const problem = shallowRef<Problem | null>(null)
const told = ref('')
const said = ref({ old: '', next: '' })
onMounted(async () => {
  await me.load().catch((error: unknown) => (problem.value = error as Problem))
  if (!me.me?.signed_in) return
  await load(readSessions)
  keys.value = await readPasskeys().catch(() => null)
})
const keys = shallowRef<PasskeysView | null>(null)
const navigatorAgent = navigator.userAgent
async function doing(what: () => Promise<unknown>): Promise<void> {
  told.value = ''
  try {
    await what()
    problem.value = null
  } catch (error) {
    problem.value = error as Problem
  }
}
const out = (): Promise<void> =>
  doing(async () => {
    await signOut()
    const now = await me.load()
    await router.push(now.open ? '/jobs' : '/sign-in')
  })
const renew = (): Promise<void> =>
  doing(async () => {
    await changePassword(said.value.old, said.value.next)
    said.value = { old: '', next: '' }
    told.value = 'The new password stands. Every other browser was signed out.'
    await load(readSessions)
  })
/** What kind of thing it is, as far as it says so. */
const browser = (agent: string): string =>
  /Mobi|Tablet/.test(agent) ? 'a phone' : agent.startsWith('Mozilla') ? 'a computer' : 'a program'
</script>

<template>
  <main class="start crew-page">
    <header>
      <h1>{{ me.me?.signed_in ? me.name : 'At this machine' }}</h1>
      <p><RouterLink to="/jobs">All jobs</RouterLink></p>
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    </header>
    <TryAs />
    <section v-if="found && me.me?.signed_in">
      <h2>Signed in</h2>
      <ul class="crew-list">
        <li v-for="x in found.sessions" :key="x.id">
          <span
            ><b>{{ browser(x.agent) }}</b> {{ x.this ? 'this one' : x.address }}
            <small>since {{ weekday(x.made_at) }}, last {{ weekday(x.seen_at) }} {{ clock(x.seen_at) }}</small></span
          >
          <BButton v-if="!x.this" @click="doing(async () => show(await endSession(x.id)))">Sign it out</BButton>
          <BButton v-else @click="out">Sign out</BButton>
        </li>
      </ul>
      <BButton v-if="found.sessions.length > 1" @click="doing(async () => show(await endSessions()))"
        >Sign all others out</BButton
      >
    </section>
    <section v-if="keys && me.me?.signed_in" aria-label="Devices that sign in">
      <h2>Devices that sign in</h2>
      <p v-if="!keys.keys.length" class="quiet">
        A device can hold a key of yours: signing in is then a touch or a look at it, without the password.
      </p>
      <ul class="crew-list">
        <li v-for="k in keys.keys" :key="k.id">
          <span
            ><b>{{ k.label }}</b>
            <small
              >since {{ weekday(k.made_at)
              }}{{ k.used_at ? `, last used ${weekday(k.used_at)} ${clock(k.used_at)}` : ', not used yet' }}</small
            ></span
          >
          <BButton @click="doing(async () => (keys = await dropPasskey(k.id)))">It counts no more</BButton>
        </li>
      </ul>
      <p v-if="keysHere()">
        <BButton @click="doing(async () => (keys = await makeKey(browser(navigatorAgent))))"
          >Let this device sign in</BButton
        >
      </p>
      <p v-else class="quiet">
        Devices keep keys for names: open this server as localhost, or by its .local name, to add one.
      </p>
    </section>
    <form v-if="me.me?.signed_in && !me.me.open" class="crew-form" @submit.prevent="renew">
      <h2>Another password</h2>
      <SecretField v-model="said.old" label="So far" />
      <SecretField v-model="said.next" label="From now on" fresh />
      <BButton type="submit" variant="primary">Change it</BButton>
      <p v-if="told" role="status">{{ told }}</p>
    </form>
  </main>
</template>

<style src="../styles/crew.css"></style>
