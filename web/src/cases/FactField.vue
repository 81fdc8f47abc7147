<script setup lang="ts">
import { computed, ref } from 'vue'
import Choice from '@/shared/Choice.vue'
import Field from '@/shared/Field.vue'
import { dayText } from '@/shared/format'
import { kindOf } from './shares'
import type { Fact } from './useFacts'
import NumberField from '@/shared/NumberField.vue'
import DayField from '@/shared/DayField.vue'
import { useUnsaved } from '@/shared/unsaved'
import Suggest from '@/shared/Suggest.vue'

/** One fact with its source underneath; it is kept when the field is left, figures follow while typing. */
const props = defineProps<{
  fact: Fact
  value: unknown
  fault?: string
  unit?: string
  disabled?: boolean
  kind?: 'text' | 'date' | 'choice' | 'long'
  choices?: readonly string[]
  optional?: boolean
  point?: string
  /** What the fact means, in a few words; shown while it is empty, or always for those who do not know it. */
  about?: string
  explain?: boolean
}>()
const emit = defineEmits<{ keep: [value: string, seen?: number]; typing: [value: string] }>()
// What somebody else keeps meanwhile must not take away what is being typed here.
const draft = ref<string | null>(null)
// The version that stood here when the typing began: whoever kept another one since is not written over.
let seen = 0
const text = computed((): string =>
  props.value === null || props.value === undefined ? '' : String(props.value),
)
const shown = computed(() => draft.value ?? text.value)
const kindOfNumber = computed(() => kindOf(props.fact.field))
// A part of something lies between nothing and all of it; a rate a year may be anything.
const bounded = computed(() => kindOfNumber.value === 'share' && props.fact.field !== 'discount_rate')
const help = computed((): string => {
  const source = props.fact.source
    ? `${props.fact.source}${props.fact.date ? `, ${dayText(props.fact.date)}` : ''}`
    : ''
  const about = props.about && (props.explain || shown.value === '') ? props.about : ''
  if (shown.value === '') return [about, props.optional ? 'not given' : 'missing'].filter(Boolean).join('; ')
  return [about, source].filter(Boolean).join(' · ')
})
useUnsaved(props.fact.label, () => draft.value !== null && draft.value !== text.value)
function type(now: string) {
  if (draft.value === null) seen = props.fact.version
  draft.value = now
  emit('typing', now.trim())
}
function leave() {
  if (draft.value === null) return
  const now = draft.value.trim()
  draft.value = null
  emit('keep', now, seen === props.fact.version ? undefined : seen)
}
</script>

<template>
  <div :data-field="fact.field" class="fact" :class="{ wide: kind === 'text' }">
    <Field v-slot="{ id, invalid }" :label="fact.label" :help="help" :fault="fault">
      <span class="row">
        <Choice
          v-if="kind === 'choice'"
          :id="id"
          :model-value="text"
          :options="choices ?? []"
          placeholder="choose"
          :disabled="disabled"
          @update:model-value="(now) => emit('keep', now)"
        />
        <el-input
          v-else-if="kind === 'long'"
          :id="id"
          type="textarea"
          :rows="4"
          :model-value="shown"
          :disabled="disabled"
          :aria-invalid="invalid"
          @input="type"
          @blur="leave"
        />
        <DayField
          v-else-if="kind === 'date'"
          :id="id"
          :model-value="shown"
          :disabled="disabled"
          :invalid="invalid"
          @update:model-value="(now: string | null) => (type(now ?? ''), leave())"
        />
        <Suggest
          v-else-if="kind === 'text' && choices"
          :id="id"
          :model-value="shown"
          :known="choices"
          :chars="30"
          :disabled="disabled"
          :invalid="invalid"
          @update:model-value="type"
          @keep="leave"
        />
        <el-input
          v-else-if="kind === 'text'"
          :id="id"
          :model-value="shown"
          :disabled="disabled"
          :aria-invalid="invalid"
          style="--chars: 30"
          @input="type"
          @blur="leave"
        />
        <NumberField
          v-else
          :id="id"
          :model-value="shown"
          :kind="kindOfNumber"
          :min="bounded ? 0 : undefined"
          :max="bounded ? 1 : undefined"
          :disabled="disabled"
          :invalid="invalid"
          @update:model-value="(now) => type(String(now ?? ''))"
          @keep="leave"
        />
        <span v-if="unit" class="quiet">{{ unit }}</span>
      </span>
    </Field>
    <p v-if="point" class="point"><b>To be looked at:</b> {{ point }}</p>
  </div>
</template>

<style scoped>
.fact {
  min-width: 0;
}
.wide {
  grid-column: span 2;
}
@media (max-width: 700px) {
  .wide {
    grid-column: auto;
  }
}
.row {
  min-width: 0;
}
.row:has(.el-textarea) {
  display: block;
}
.point {
  border-left: 3px double var(--care);
  padding-left: 6px;
  font-size: 13px;
}
</style>
