<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { onBeforeUnmount, ref } from 'vue'
import { readScanned } from '../../api'
import type { Problem } from '../../api/client'

/** A label: scanned by a reader, which types it and ends the line; typed; or seen by the camera where the browser can. */
const emit = defineEmits<{ read: [label: string] }>()
const typed = ref('')
const field = ref<InstanceType<typeof BFormInput> | null>(null)
function enter(): void {
  const label = typed.value.trim()
  typed.value = ''
  if (label) emit('read', label)
}

interface Detector {
  detect: (from: HTMLVideoElement) => Promise<{ rawValue: string }[]>
}
const maker = (window as unknown as { BarcodeDetector?: new (o: { formats: string[] }) => Detector }).BarcodeDetector
const canSee = maker !== undefined && 'mediaDevices' in navigator
const seeing = ref(false)
const trouble = ref('')
const picture = ref<HTMLVideoElement | null>(null)
let stream: MediaStream | null = null
let last = ''
async function see(): Promise<void> {
  if (!maker || seeing.value) {
    stop()
    return
  }
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
  } catch {
    trouble.value = 'The camera may not be used here. Type the label, or tap the thing.'
    return
  }
  seeing.value = true
  trouble.value = ''
  const detector = new maker({ formats: ['qr_code', 'code_128', 'code_39'] })
  const look = async (): Promise<void> => {
    const video = picture.value
    if (!seeing.value || !video) return
    if (!video.srcObject) {
      video.srcObject = stream
      await video.play().catch(() => undefined)
    }
    const found = await detector.detect(video).catch(() => [])
    const label = found[0]?.rawValue.trim() ?? ''
    if (label && label !== last) emit('read', label)
    last = label
    setTimeout(() => void look(), 300)
  }
  setTimeout(() => void look(), 100)
}
function stop(): void {
  seeing.value = false
  stream?.getTracks().forEach((track) => {
    track.stop()
  })
  stream = null
}
/** A reader on a line of its own is asked while its button is in. */
const reading = ref(false)
async function ask(): Promise<void> {
  if (!reading.value) return
  try {
    const { label } = await readScanned()
    if (label) emit('read', label)
    trouble.value = ''
    // What was scanned meanwhile comes at once, one after the other.
    setTimeout(() => void ask(), label ? 60 : 800)
  } catch (error) {
    reading.value = false
    trouble.value = (error as Problem).message
  }
}
function useReader(): void {
  reading.value = !reading.value
  void ask()
}
onBeforeUnmount(() => {
  reading.value = false
  stop()
})
defineExpose({ focus: () => (field.value as { focus?: () => void } | null)?.focus?.() })
</script>

<template>
  <form class="scan-field" @submit.prevent="enter">
    <BFormInput
      ref="field"
      v-model="typed"
      type="text"
      maxlength="120"
      autocomplete="off"
      autocapitalize="characters"
      spellcheck="false"
      placeholder="Scan or type a label"
      aria-label="Label, scanned or typed"
    />
    <BButton type="submit" variant="primary">Enter</BButton>
    <BButton v-if="canSee" :aria-pressed="seeing" @click="see">{{ seeing ? 'Close camera' : 'Camera' }}</BButton>
    <BButton :aria-pressed="reading" @click="useReader">Reader</BButton>
    <video v-show="seeing" ref="picture" muted playsinline></video>
    <p v-if="trouble" class="trouble">{{ trouble }}</p>
  </form>
</template>

<style>
.scan-field {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
.scan-field input {
  flex: 1;
  min-width: 150px;
  min-height: 44px;
  font: 600 var(--t-5) var(--figures);
}
.scan-field .btn {
  min-height: 44px;
}
.scan-field video {
  width: 100%;
  max-height: 220px;
  object-fit: cover;
}
.scan-field .trouble {
  width: 100%;
}
</style>
