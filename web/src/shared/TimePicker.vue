<script setup lang="ts">
/** A wall time, kept as 18:00; its zone stands beside it. */
defineProps<{ id?: string; label?: string; disabled?: boolean; invalid?: boolean }>()
const time = defineModel<string | null>({ required: true })
</script>

<template>
  <el-time-picker
    :id="id"
    :model-value="time || ''"
    format="HH:mm"
    value-format="HH:mm"
    placeholder="HH:MM"
    :disabled="disabled"
    :aria-label="label"
    :aria-invalid="invalid"
    class="time-field"
    @update:model-value="(now: string | null) => (time = now ?? '')"
  />
</template>
