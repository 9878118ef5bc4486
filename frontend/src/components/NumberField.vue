<script setup lang="ts">
/** A number that is told when it is left; a picture that arrives while it is typed does not take the typing away. */
defineProps<{ value: number }>()
const emit = defineEmits<{ change: [value: number] }>()
</script>

<template>
  <input type="number" :value="value" @change="emit('change', Number(($event.target as HTMLInputElement).value))" />
</template>
