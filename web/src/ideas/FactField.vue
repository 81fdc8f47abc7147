<script setup lang="ts">
import Field from '@/shared/Field.vue'
import { dayText } from '@/shared/format'
import type { Fact } from './useFacts'

/** One fact with its source underneath; it is kept when the field is left. */
const props = defineProps<{
  fact: Fact
  value: unknown
  fault?: string
  unit?: string
  disabled?: boolean
  kind?: 'text' | 'date' | 'choice'
  choices?: string[]
  optional?: boolean
}>()
const emit = defineEmits<{ keep: [value: string] }>()
const shares = /_share$|_override$|discount_rate/
/** Shares are typed as they are kept: 0.05 means five in a hundred; the page says so beside it. */
function help(): string {
  const value = props.value
  const percent =
    shares.test(props.fact.field) && value !== '' && value !== null
      ? `= ${Math.round(Number(value) * 1e4) / 100} %`
      : ''
  const source = props.fact.source
    ? `${props.fact.source}${props.fact.date ? `, ${dayText(props.fact.date)}` : ''}`
    : ''
  if (value === '' || value === null || value === undefined)
    return [props.optional ? 'not given' : 'missing', shares.test(props.fact.field) && '0.05 means 5 %']
      .filter(Boolean)
      .join('; ')
  return [percent, source].filter(Boolean).join(' · ')
}
const text = (): string => (props.value === null || props.value === undefined ? '' : String(props.value))
</script>

<template>
  <div :data-field="fact.field">
    <Field v-slot="{ id, invalid }" :label="fact.label" :help="help()" :fault="fault">
      <span class="row">
        <select
          v-if="kind === 'choice'"
          :id="id"
          :value="text()"
          :disabled="disabled"
          @change="emit('keep', ($event.target as HTMLSelectElement).value)"
        >
          <option value="">Choose</option>
          <option v-for="one in choices" :key="one">{{ one }}</option>
        </select>
        <input
          v-else
          :id="id"
          :type="kind === 'date' ? 'date' : 'text'"
          :inputmode="kind ? undefined : 'decimal'"
          :value="text()"
          :disabled="disabled"
          :aria-invalid="invalid"
          :size="kind === 'text' ? 30 : 9"
          @change="emit('keep', ($event.target as HTMLInputElement).value.trim())"
        />
        <span v-if="unit" class="quiet">{{ unit }}</span>
      </span>
    </Field>
  </div>
</template>

<style scoped>
input {
  max-width: 100%;
}
</style>
