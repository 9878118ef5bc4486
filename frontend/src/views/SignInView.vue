<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { makeFirst, signIn } from '../api'
import type { Problem } from '../api/client'
import SecretField from '../components/fields/SecretField.vue'
import TextField from '../components/fields/TextField.vue'
import OutboxLine from '../components/frame/OutboxLine.vue'
import { keysHere, signInByKey } from '../lib/passkeys'
import { useJob } from '../stores/job'
import { useMe } from '../stores/me'

const route = useRoute()
const router = useRouter()
const me = useMe()
const said = ref({ code: '', name: '', password: '' })
const problem = shallowRef<Problem | null>(null)
const busy = ref(false)
const first = computed(() => me.me?.first ?? false)
onMounted(() => me.load().catch((error: unknown) => (problem.value = error as Problem)))

const go = (): Promise<void> => {
  const { code, name, password } = said.value
  return come(() => (first.value ? makeFirst(code, name, password) : signIn(name, password)))
}
async function come(by: () => Promise<unknown>): Promise<void> {
  if (busy.value) return
  busy.value = true
  try {
    await by()
    await me.load()
    useJob().forget()
    const to = String(route.query.to ?? '')
    await router.replace(to.startsWith('/') && !to.startsWith('//') ? to : '/jobs')
  } catch (error) {
    problem.value = error as Problem
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="door">
    <h1>Lift Crate</h1>
    <OutboxLine />
    <form v-if="me.me" @submit.prevent="go">
      <template v-if="first">
        <p>Nobody has an account here yet. The first one leads the house: its shelf, its jobs, its crew.</p>
        <label>Code from the terminal <TextField v-model="said.code" required autocomplete="off" /></label>
      </template>
      <label
        >Your name <small v-if="first">as the others know you</small>
        <TextField v-model="said.name" required maxlength="80" autocomplete="username"
      /></label>
      <SecretField v-model="said.password" label="Password" :fresh="first" />
      <p v-if="first" class="quiet">At least 10 characters; three or four words are easy to keep.</p>
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
      <BButton type="submit" size="lg" variant="primary" :disabled="busy">{{
        first ? 'Make the first account' : 'Sign in'
      }}</BButton>
      <BButton v-if="!first && keysHere()" size="lg" :disabled="busy" @click="come(signInByKey)"
        >Sign in with this device</BButton
      >
      <p v-if="!first" class="quiet">No account, or the password is lost? A lead of the house gives you a link.</p>
    </form>
    <p v-else-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
  </main>
</template>

<style src="../styles/door.css"></style>
