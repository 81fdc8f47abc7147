<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import Choice from './Choice.vue'
import DayField from './DayField.vue'
import { later } from './later'
import NumberField from './NumberField.vue'
import { useMe } from './session'
import { momentOf, wallOf } from './wall'
import { inWords, isLong, kindOf, type Schema } from './schema'

// Few routines take a file.
const SchemaFile = later(() => import('./SchemaFile.vue'))

/** The field of one value that has nothing within it. */
const props = defineProps<{
  id: string
  schema: Schema
  label: string
  disabled?: boolean
  invalid?: boolean
}>()
const value = defineModel<unknown>()
const { zone } = useMe()
const kind = computed(() => kindOf(props.schema))

// Choices may be of any type: they are told apart by how they are written.
const choices = computed(() =>
  (props.schema.enum ?? []).map((one) => ({ value: JSON.stringify(one), words: inWords(one) })),
)
const chosen = computed({
  get: () => (value.value === undefined || value.value === '' ? '' : JSON.stringify(value.value)),
  set: (now: string) => (value.value = now === '' ? undefined : JSON.parse(now)),
})
const wall = computed(() => (typeof value.value === 'string' ? wallOf(value.value, zone.value) : ''))
const moment = (now: string | null) => (value.value = now ? momentOf(now, zone.value) : undefined)
const yes = computed(() => (value.value ?? props.schema.default) === true)
const number = computed(() => (typeof value.value === 'number' ? value.value : null))

// What is no JSON yet is handed on as it was typed, so that nothing stands for it that was not meant.
const typed = ref<string | null>(null)
const unread = ref(false)
const json = computed(
  () => typed.value ?? (value.value === undefined ? '' : JSON.stringify(value.value, null, 1)),
)
let given: unknown
watch(value, (now) => now !== given && (typed.value = null))
function write(text: string) {
  typed.value = text
  unread.value = false
  given = undefined
  try {
    if (text.trim() !== '') given = JSON.parse(text)
  } catch {
    unread.value = true
    given = text
  }
  value.value = given
}
</script>

<template>
  <span v-if="kind === 'always'">{{ inWords(schema.const) }}, always</span>
  <Choice
    v-else-if="kind === 'choice'"
    :id="id"
    v-model="chosen"
    :options="choices"
    nothing="–"
    none=""
    :disabled="disabled"
    :invalid="invalid"
  />
  <el-checkbox
    v-else-if="kind === 'yes'"
    :id="id"
    :model-value="yes"
    :disabled="disabled"
    @change="(on: unknown) => (value = on === true)"
  />
  <NumberField
    v-else-if="kind === 'number'"
    :id="id"
    numeric
    :model-value="number"
    :whole="schema.type === 'integer'"
    :min="schema.minimum"
    :max="schema.maximum"
    :disabled="disabled"
    :invalid="invalid"
    @update:model-value="(now: number | string | null) => (value = now ?? undefined)"
  />
  <SchemaFile
    v-else-if="kind === 'file'"
    :id="id"
    :model-value="value"
    :label="label"
    :disabled="disabled"
    @update:model-value="(now: unknown) => (value = now)"
  />
  <DayField
    v-else-if="kind === 'day'"
    :id="id"
    :model-value="typeof value === 'string' ? value : ''"
    :disabled="disabled"
    :invalid="invalid"
    @update:model-value="(now: string | null) => (value = now || undefined)"
  />
  <span v-else-if="kind === 'moment'" class="row">
    <DayField
      :id="id"
      timed
      :model-value="wall"
      :disabled="disabled"
      :invalid="invalid"
      @update:model-value="moment"
    />
    <span class="quiet">by the clock of {{ zone }}</span>
  </span>
  <span v-else-if="kind === 'json'">
    <el-input
      :id="id"
      type="textarea"
      :rows="3"
      :model-value="json"
      :disabled="disabled"
      :aria-invalid="invalid || unread"
      style="--chars: 50"
      @input="write"
    />
    <span v-if="unread" class="quiet bad" role="alert">not valid JSON yet</span>
  </span>
  <el-input
    v-else
    :id="id"
    :type="isLong(schema) ? 'textarea' : 'text'"
    :rows="4"
    :model-value="typeof value === 'string' ? value : ''"
    :placeholder="schema.format === 'time' ? '09:30' : ''"
    :disabled="disabled"
    :aria-invalid="invalid"
    style="--chars: 36"
    @input="(now: string) => (value = now === '' ? undefined : now)"
  />
</template>
