<script setup lang="ts">
import { watch } from 'vue'
import { RouterView, useRouter } from 'vue-router'
import { forgetRead } from './api'
import { onSignedOut } from './api/client'
import { useMe } from './stores/me'
import { useOutbox } from './stores/outbox'

const router = useRouter()
const me = useMe()
const outbox = useOutbox()
void me.load().catch(() => undefined)
/** What waited for somebody to sign in goes as soon as he has, on whatever screen that is. */
watch(
  () => me.name,
  (name) => void (name && outbox.send()),
)
/** Whoever is signed out signs in, and goes on where he was. */
onSignedOut(() => {
  // Also where it was ended from elsewhere: a device that was lost shows nothing once it was in touch.
  forgetRead()
  const now = router.currentRoute.value
  if (now.name !== 'sign in' && now.name !== 'come')
    void router.replace({ name: 'sign in', query: { to: now.fullPath === '/jobs' ? undefined : now.fullPath } })
})
</script>

<template>
  <RouterView />
</template>
