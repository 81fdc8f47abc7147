<script setup lang="ts" generic="T extends number | null">
import NumberField from './NumberField.vue'

/** A whole number as a number; null when the field is empty. */
defineProps<{
  id?: string
  min?: number
  max?: number
  unit?: string
  chars?: number
  label?: string
  disabled?: boolean
  invalid?: boolean
  placeholder?: string
}>()
const value = defineModel<T>({ required: true })
const emit = defineEmits<{ keep: [] }>()
</script>

<template>
  <NumberField
    :id="id"
    :model-value="value"
    whole
    numeric
    :min="min"
    :max="max"
    :unit="unit"
    :chars="chars ?? 6"
    :label="label"
    :disabled="disabled"
    :invalid="invalid"
    :placeholder="placeholder"
    @update:model-value="(now: string | number | null) => (value = now as T)"
    @keep="emit('keep')"
  />
</template>
