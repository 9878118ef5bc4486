<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { acceptInvitation, readInvitation } from '../api'
import type { Problem } from '../api/client'
import type { InvitationView } from '../api/schema.gen'
import SecretField from '../components/fields/SecretField.vue'
import TextField from '../components/fields/TextField.vue'
import { useLoad } from '../composables/useLoad'
import { useMe } from '../stores/me'

const props = defineProps<{ word: string }>()
const router = useRouter()
const me = useMe()
const { found, problem: unread, load } = useLoad<InvitationView>()
const trouble = shallowRef<Problem | null>(null)
const problem = computed(() => trouble.value ?? unread.value)
const said = ref({ name: '', password: '' })
const busy = ref(false)
/** A link to a new password is for whoever it names; into a job one comes as who one is, or with a new account. */
const own = computed(() => Boolean(found.value && !found.value.name && me.me?.signed_in))
const as = ref<'me' | 'new'>('me')
onMounted(() => Promise.all([load(() => readInvitation(props.word)), me.load().catch(() => undefined)]))

async function come(): Promise<void> {
  if (busy.value) return
  busy.value = true
  try {
    const mine = own.value && as.value === 'me'
    await acceptInvitation(props.word, mine ? '' : said.value.name, mine ? '' : said.value.password)
    await me.load()
    await router.replace('/jobs')
  } catch (error) {
    trouble.value = error as Problem
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="door">
    <h1>Lift Crate</h1>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <form v-if="found" @submit.prevent="come">
      <p v-if="found.name">
        A new password for <b>{{ found.name }}</b>; all browsers that were signed in are signed out by it.
      </p>
      <p v-else-if="found.role">
        {{ found.by }} asks you to <b>{{ found.title }}</b> as <b>{{ found.role }}</b>.
      </p>
      <p v-else>{{ found.by }} gives you an account here.</p>
      <fieldset v-if="own" class="come-as">
        <label><input v-model="as" class="form-check-input" type="radio" value="me" /> as {{ me.name }}</label>
        <label><input v-model="as" class="form-check-input" type="radio" value="new" /> with a new account</label>
      </fieldset>
      <template v-if="!own || as === 'new'">
        <label v-if="!found.name"
          >Your name <small>as the others know you</small>
          <TextField v-model="said.name" required maxlength="80" autocomplete="username"
        /></label>
        <SecretField v-model="said.password" label="Password" fresh />
        <p class="quiet">At least 10 characters; three or four words are easy to keep.</p>
      </template>
      <BButton type="submit" size="lg" variant="primary" :disabled="busy">{{
        found.name ? 'Set it' : 'Come in'
      }}</BButton>
    </form>
  </main>
</template>

<style src="../styles/door.css"></style>
