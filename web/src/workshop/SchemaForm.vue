<script setup lang="ts">
import { computed, ref, shallowReactive } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import DayField from '@/shared/DayField.vue'
import Choice from '@/shared/Choice.vue'
import { later } from '@/shared/later'

// Few routines take a file.
const FileField = later(() => import('@/shared/FileField.vue'))
const FilePreview = later(() => import('@/shared/FilePreview.vue'))

/** Inputs by the package's own schema; a field left empty is left out. */
interface Property {
  type?: string
  format?: string
  title?: string
  description?: string
  default?: unknown
  enum?: string[]
}
const props = defineProps<{
  schema: Record<string, unknown>
  faults?: (name: string) => string | undefined
  disabled?: boolean
}>()
const values = defineModel<Record<string, unknown>>({ required: true })
const texts = ref<Record<string, string>>({})
const wrong = ref<Record<string, string>>({})

const required = computed(() => (props.schema.required ?? []) as string[])
const fields = computed(() => Object.entries((props.schema.properties ?? {}) as Record<string, Property>))

function set(name: string, value: unknown) {
  const next = { ...values.value }
  if (value === undefined || value === '') delete next[name]
  else next[name] = value
  values.value = next
}
function type(name: string, property: Property, text: string) {
  texts.value[name] = text
  delete wrong.value[name]
  if (text === '') return set(name, undefined)
  if (property.type === 'integer' || property.type === 'number') {
    const found = Number(text)
    if (Number.isNaN(found)) wrong.value[name] = `“${text}” is no number`
    return set(name, Number.isNaN(found) ? text : found)
  }
  if (property.type === 'array' || property.type === 'object') {
    try {
      return set(name, JSON.parse(text))
    } catch {
      wrong.value[name] = 'not valid JSON yet'
      return
    }
  }
  set(name, text)
}
function shown(name: string): string {
  if (name in texts.value) return texts.value[name] ?? ''
  const value = values.value[name]
  return value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value)
}
const fileName = (name: string): string =>
  String(values.value[name] ?? '')
    .split('/')
    .slice(1)
    .join('/')
const keep = useAction(async (name: string, file: File): Promise<Schemas['InputFile']> => {
  const form = new FormData()
  form.set('file', file)
  const kept = await ask(
    api.POST('/api/v1/routines/input-files', {
      body: form as unknown as { file: string },
      bodySerializer: () => form,
    }),
  )
  set(name, kept.value)
  return kept
})
// What was chosen here, so that it is seen to be the right one before it starts anything.
const chosen = shallowReactive(new Map<string, File>())
function choose(name: string, [file]: File[]) {
  if (!file) return
  chosen.set(name, file)
  void keep.go(name, file)
}
const hint = (property: Property): string =>
  [property.description, property.default === undefined ? '' : `left out: ${String(property.default)}`]
    .filter(Boolean)
    .join('; ')
</script>

<template>
  <div class="stack tight">
    <p v-if="!fields.length" class="quiet">The package takes no inputs.</p>
    <Field
      v-for="[name, property] in fields"
      :key="name"
      v-slot="{ id, invalid }"
      :label="`${property.title ?? name}${required.includes(name) ? ', needed' : ''}`"
      :help="hint(property)"
      :fault="wrong[name] ?? faults?.(name)"
    >
      <span v-if="property.format === 'file'" class="row">
        <FileField
          :id="id"
          :words="fileName(name) || 'Choose a file'"
          :label="property.title ?? name"
          :disabled="disabled"
          @chosen="(files: File[]) => choose(name, files)"
        />
        <el-button v-if="values[name]" link type="primary" @click="set(name, undefined)">
          Take off
        </el-button>
        <FilePreview v-if="values[name] && chosen.has(name)" :file="chosen.get(name)!" />
      </span>
      <Choice
        v-else-if="property.enum"
        :id="id"
        :model-value="String(values[name] ?? '')"
        :options="property.enum"
        nothing="–"
        none=""
        :disabled="disabled"
        @update:model-value="(now) => set(name, now)"
      />
      <el-checkbox
        v-else-if="property.type === 'boolean'"
        :id="id"
        :model-value="values[name] === true"
        :disabled="disabled"
        @change="(on: unknown) => set(name, on === true)"
      />
      <DayField
        v-else-if="property.format === 'date'"
        :id="id"
        :model-value="shown(name)"
        :disabled="disabled"
        :invalid="invalid"
        @update:model-value="(now: string | null) => type(name, property, now ?? '')"
      />
      <el-input
        v-else
        :id="id"
        :model-value="shown(name)"
        :disabled="disabled"
        :aria-invalid="invalid"
        style="--chars: 36"
        @input="(now: string) => type(name, property, now)"
      />
    </Field>
    <Problem :error="keep.error.value" />
  </div>
</template>

<style scoped>
.file {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.button:focus-within {
  outline: 2px solid var(--act);
}
</style>
