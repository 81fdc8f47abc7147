<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { faultAt, faultOf } from './faults'
import Field from './Field.vue'
import { begun, hintOf, isTable, kindOf, withValue, type Schema } from './schema'
import SchemaInput from './SchemaInput.vue'

/** One value by its schema: a field, values by name, or a list of such. `at`: its place, as the server calls it. */
const props = defineProps<{
  label: string
  at: string
  schema: Schema
  needed?: boolean
  error?: unknown
  disabled?: boolean
}>()
const value = defineModel<unknown>()
const kind = computed(() => kindOf(props.schema))
const named = computed(() => `${props.label}${props.needed ? ', needed' : ''}`)
const inner = computed(() => Object.entries(props.schema.properties ?? {}))
const table = computed(() => (isTable(value.value) ? value.value : {}))
const rows = computed(() => (Array.isArray(value.value) ? (value.value as unknown[]) : []))

// A row keeps its fields, and what is typed in them, also when one above it goes.
let last = 0
const keys = ref<number[]>([])
watch(
  () => rows.value.length,
  (count) => {
    while (keys.value.length < count) keys.value.push(++last)
    keys.value.length = count
  },
  { immediate: true, flush: 'sync' },
)
function put(row: number, now: unknown) {
  value.value = rows.value.map((one, n) => (n === row ? (now ?? '') : one))
}
function add() {
  value.value = [...rows.value, begun(props.schema.items!)]
}
function remove(row: number) {
  keys.value.splice(row, 1)
  const left = rows.value.filter((_, n) => n !== row)
  value.value = left.length ? left : undefined
}
const full = computed(() => rows.value.length >= (props.schema.maxItems ?? Infinity))
</script>

<template>
  <fieldset v-if="kind === 'table' || kind === 'list'" class="within" :data-at="at">
    <legend>{{ named }}</legend>
    <p v-if="hintOf(schema)" class="quiet">{{ hintOf(schema) }}</p>
    <p v-if="faultAt(error, at)" class="bad" role="alert">{{ faultAt(error, at) }}</p>
    <div v-if="kind === 'table'" class="side">
      <SchemaField
        v-for="[name, one] in inner"
        :key="name"
        :model-value="table[name]"
        :label="one.title ?? name"
        :at="`${at}.${name}`"
        :schema="one"
        :needed="schema.required?.includes(name)"
        :error="error"
        :disabled="disabled"
        @update:model-value="(now: unknown) => (value = withValue(table, name, now))"
      />
    </div>
    <template v-else>
      <div v-for="(row, n) in rows" :key="keys[n]" class="row line">
        <SchemaField
          :model-value="row"
          :label="`${schema.items!.title ?? label} ${n + 1}`"
          :at="`${at}.${n}`"
          :schema="schema.items!"
          :error="error"
          :disabled="disabled"
          @update:model-value="(now: unknown) => put(n, now)"
        />
        <el-button
          :aria-label="`Take ${schema.items!.title ?? label} ${n + 1} out`"
          :disabled="disabled"
          link
          type="primary"
          @click="remove(n)"
          >Take out</el-button
        >
      </div>
      <p>
        <el-button :disabled="disabled || full" @click="add">Add to {{ label }}</el-button>
        <span v-if="full" class="quiet"> up to {{ schema.maxItems }} in the list</span>
      </p>
    </template>
  </fieldset>
  <Field
    v-else
    v-slot="{ id, invalid }"
    :label="named"
    :help="hintOf(schema)"
    :fault="faultOf(error, at)"
    :data-at="at"
  >
    <SchemaInput
      :id="id"
      v-model="value"
      :schema="schema"
      :label="label"
      :disabled="disabled"
      :invalid="invalid"
    />
  </Field>
</template>

<style scoped>
.within {
  border-left: 3px solid var(--hair-2);
  padding-left: 14px;
  display: grid;
  gap: 10px;
  min-width: 0;
}
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
}
legend {
  font-size: 13px;
  color: var(--ink-2);
  padding: 0;
}
.line {
  align-items: flex-start;
}
</style>
