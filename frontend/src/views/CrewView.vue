<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import {
  inviteTo,
  inviteToHouse,
  readCrew,
  readHouse,
  readJob,
  resetPassword,
  setHouse,
  setRole,
  setWorksAs,
  takeBackHouseInvitation,
  takeBackInvitation,
  type House,
  type Role,
} from '../api'
import type { Problem } from '../api/client'
import type { CrewView, HouseView, Invited } from '../api/schema.gen'
import ChoiceField from '../components/fields/ChoiceField.vue'
import { useAgain } from '../composables/useAgain'
import { useLoad } from '../composables/useLoad'
import { clock, weekday } from '../lib/format'
import { HOUSES, ROLES, useMe } from '../stores/me'

/** Who works on a job, as what and at which cameras; for leads: links to come, roles to give, what was changed. */
const props = defineProps<{ job: string }>()
const me = useMe()
const { found, problem: unread, load, show } = useLoad<CrewView>()
const house = useLoad<HouseView>()
const trouble = shallowRef<Problem | null>(null)
const problem = computed(() => trouble.value ?? unread.value)
const title = ref('')
const link = shallowRef<{ of: string; made: Invited } | null>(null)
const asked = ref('')
const leads = computed(() => found.value?.own_role === 'lead')
onMounted(async () => {
  await Promise.all([load(() => readCrew(props.job)), me.load().catch(() => undefined)])
  title.value = (await readJob(props.job).catch(() => null))?.title ?? ''
  if (me.me?.house === 'lead') await house.load(readHouse)
})
useAgain(() => load(() => readCrew(props.job)))
async function doing(what: () => Promise<unknown>): Promise<boolean> {
  try {
    await what()
    trouble.value = null
    return true
  } catch (error) {
    trouble.value = error as Problem
    return false
  }
}
const give = (account: string, role: string): Promise<boolean> =>
  doing(async () => {
    show(await setRole(props.job, account, role ? (role as Role) : null))
    asked.value = ''
  })
const stand = (account: string, next: string): Promise<boolean> =>
  doing(async () => {
    house.show(await setHouse(account, next ? (next as House) : null))
    show(await readCrew(props.job))
    asked.value = ''
  })
const ask = (of: string, call: () => Promise<Invited>): Promise<boolean> =>
  doing(async () => {
    link.value = { of, made: await call() }
    show(await readCrew(props.job))
    if (house.found.value) house.show(await readHouse())
  })
const copied = ref('')
async function copy(text: string): Promise<void> {
  await navigator.clipboard.writeText(text)
  copied.value = text
}
/** Names in the cells of the day that nobody's account works as. */
const free = computed(() => {
  const taken = new Set(found.value?.people.map((m) => m.works_as))
  return Object.keys(found.value?.cameras ?? {}).filter((name) => !taken.has(name))
})
const worksChoices = (now: string) => [
  { value: '', text: 'no camera of his own' },
  ...[...new Set([now, ...free.value])].filter(Boolean).map((name) => ({ value: name, text: `works as ${name}` })),
]
const ROLE_CHOICES = ROLES.map((r) => ({ value: r.value, text: r.text }))
const HOUSE_CHOICES = HOUSES.map((h) => ({ value: h.value, text: h.text }))
const may = (role: string | null): string => ROLES.find((r) => r.value === role)?.may ?? ''
</script>

<template>
  <main class="start crew-page">
    <header>
      <h1>
        Crew <small>{{ title }}</small>
      </h1>
      <p>
        <RouterLink to="/jobs">All jobs</RouterLink> ·
        <RouterLink :to="{ name: 'history', params: { job } }">History</RouterLink> ·
        <RouterLink to="/me">{{ me.name || 'You' }}</RouterLink>
      </p>
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    </header>
    <template v-if="found">
      <section aria-label="Crew">
        <p v-if="!found.people.length" class="quiet">
          Nobody has a role here yet. Give somebody a link: it is used once and ends after three days.
        </p>
        <ul class="crew-list">
          <li v-for="m in found.people" :key="m.id">
            <span
              ><b>{{ m.name }}</b> <small>{{ found.cameras[m.works_as ?? '']?.join(', ') ?? '' }}</small></span
            >
            <ChoiceField
              v-if="leads"
              :model-value="m.role ?? ''"
              :choices="ROLE_CHOICES"
              :aria-label="`Role of ${m.name}`"
              :commit="(role: string) => give(m.id, role)"
            />
            <span v-else>{{ m.role }}</span>
            <span class="does">
              <ChoiceField
                v-if="leads && m.role === 'operator'"
                :model-value="m.works_as ?? ''"
                :choices="worksChoices(m.works_as ?? '')"
                :aria-label="`Cameras of ${m.name}`"
                :commit="(name: string) => doing(async () => show(await setWorksAs(job, m.id, name)))"
              />
              <small>{{ may(m.role) }}</small>
            </span>
            <BButton v-if="leads && asked !== m.id" @click="asked = m.id">Out of the job</BButton>
            <BButton v-if="leads && asked === m.id" variant="warning" @click="give(m.id, '')"
              >{{ m.name }} sees nothing of it any more</BButton
            >
          </li>
        </ul>
        <p v-for="name in free" :key="name" class="crew-free">
          <b>{{ name }}</b> <small>works {{ found.cameras[name]?.join(', ') }}; no account works as {{ name }}</small>
          <BButton v-if="leads" @click="ask(`as ${name}, operator`, () => inviteTo(job, 'operator', name))"
            >a link for {{ name }}</BButton
          >
        </p>
      </section>
      <section v-if="leads" aria-label="Links">
        <h2>Ask somebody in</h2>
        <p class="crew-ask">
          <BButton v-for="r in ROLES" :key="r.value" @click="ask(r.text, () => inviteTo(job, r.value))"
            >a link for {{ r.value === 'operator' ? 'an' : 'a' }} {{ r.text }}</BButton
          >
        </p>
        <figure v-if="link" class="crew-link">
          <!-- eslint-disable-next-line vue/no-v-html -- drawn by our own server from a link -->
          <div role="img" :aria-label="`Link ${link.of} to be scanned`" v-html="link.made.qr"></div>
          <figcaption>
            <span
              ><b>{{ link.of }}</b
              >, used once, until {{ weekday(link.made.ends) }} {{ clock(link.made.ends) }}</span
            >
            <code>{{ link.made.link }}</code>
            <BButton @click="copy(link.made.link)">{{
              copied === link.made.link ? 'Copied' : 'Copy the link'
            }}</BButton>
          </figcaption>
        </figure>
        <ul class="crew-list">
          <li v-for="w in found.waiting" :key="w.id">
            <span
              >{{ w.role }}{{ w.works_as ? ` as ${w.works_as}` : '' }}
              <small>asked by {{ w.by }}, until {{ weekday(w.ends) }} {{ clock(w.ends) }}</small></span
            >
            <BButton @click="doing(async () => show(await takeBackInvitation(job, w.id)))">Take it back</BButton>
          </li>
        </ul>
        <template v-if="found.others.length">
          <h2>Others with an account</h2>
          <ul class="crew-list">
            <li v-for="m in found.others" :key="m.id">
              <span
                ><b>{{ m.name }}</b></span
              >
              <ChoiceField
                model-value=""
                :choices="[{ value: '', text: 'no role here' }, ...ROLE_CHOICES]"
                :aria-label="`Role of ${m.name}`"
                :commit="(role: string) => give(m.id, role)"
              />
            </li>
          </ul>
        </template>
      </section>
      <section v-if="house.found.value" aria-label="House">
        <h2>The house</h2>
        <ul class="crew-list">
          <li v-for="m in house.found.value.people" :key="m.id">
            <span
              ><b>{{ m.name }}</b></span
            >
            <ChoiceField
              :model-value="m.house"
              :choices="HOUSE_CHOICES"
              :aria-label="`Standing of ${m.name}`"
              :commit="(next: string) => stand(m.id, next)"
            />
            <span class="acts">
              <BButton @click="ask(`new password of ${m.name}`, () => resetPassword(m.id))">New password</BButton>
              <BButton v-if="asked !== `h ${m.id}`" @click="asked = `h ${m.id}`">End the account</BButton>
              <BButton v-else variant="warning" @click="stand(m.id, '')">End it; what {{ m.name }} did stays</BButton>
            </span>
          </li>
        </ul>
        <p class="crew-ask">
          <BButton v-for="h in HOUSES" :key="h.value" @click="ask(h.text, () => inviteToHouse(h.value))"
            >an account: {{ h.text }}</BButton
          >
        </p>
      </section>
      <section v-if="house.found.value?.waiting.length" aria-label="Links of the house">
        <h2>Links of the house</h2>
        <ul class="crew-list">
          <li v-for="w in house.found.value.waiting" :key="w.id">
            <span
              >{{ w.name ? `new password of ${w.name}` : HOUSES.find((h) => h.value === w.house)?.text }}
              <small>by {{ w.by }}, until {{ weekday(w.ends) }} {{ clock(w.ends) }}</small></span
            >
            <BButton @click="doing(async () => house.show(await takeBackHouseInvitation(w.id)))">Take it back</BButton>
          </li>
        </ul>
      </section>
      <section v-if="found.history.length" aria-label="What was changed">
        <h2>What was changed</h2>
        <ol class="crew-history">
          <li v-for="(line, i) in found.history" :key="i">
            <time>{{ weekday(line.at) }} {{ clock(line.at) }}</time> <b>{{ line.actor }}</b> {{ line.what }}
          </li>
        </ol>
      </section>
    </template>
  </main>
</template>

<style src="../styles/crew.css"></style>
