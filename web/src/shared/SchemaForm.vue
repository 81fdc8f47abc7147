<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from './schema'
import { withValue } from './schema'
import SchemaField from './SchemaField.vue'

/**
 * Inputs by the package's own schema; a field left empty is left out. What the server finds wrong stands at its field,
 * however deep that lies.
 */
const props = defineProps<{ schema: Record<string, unknown>; error?: unknown; disabled?: boolean }>()
const values = defineModel<Record<string, unknown>>({ required: true })
const whole = computed(() => props.schema as Schema)
const fields = computed(() => Object.entries(whole.value.properties ?? {}))
</script>

<template>
  <div class="stack tight">
    <p v-if="!fields.length" class="quiet">The package takes no inputs.</p>
    <SchemaField
      v-for="[name, one] in fields"
      :key="name"
      :model-value="values[name]"
      :label="one.title ?? name"
      :at="`inputs.${name}`"
      :schema="one"
      :needed="whole.required?.includes(name)"
      :error="error"
      :disabled="disabled"
      @update:model-value="(now: unknown) => (values = withValue(values, name, now))"
    />
  </div>
</template>
