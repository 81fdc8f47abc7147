<script setup lang="ts">
import { computed, ref } from 'vue'
import Field from '@/shared/Field.vue'
import { dayText } from '@/shared/format'
import type { Fact } from './useFacts'

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
const shares = /_share$|^share_(low|high|override)$|discount_rate/
// What somebody else keeps meanwhile must not take away what is being typed here.
const draft = ref<string | null>(null)
// The version that stood here when the typing began: whoever kept another one since is not written over.
let seen = 0
const text = computed((): string =>
  props.value === null || props.value === undefined ? '' : String(props.value),
)
const shown = computed(() => draft.value ?? text.value)
/** Shares are typed as they are kept: 0.05 means five in a hundred; the page says so beside it. */
const help = computed((): string => {
  const share = shares.test(props.fact.field)
  const percent =
    share && shown.value !== '' && !Number.isNaN(Number(shown.value))
      ? `= ${Math.round(Number(shown.value) * 1e4) / 100} %`
      : ''
  const source = props.fact.source
    ? `${props.fact.source}${props.fact.date ? `, ${dayText(props.fact.date)}` : ''}`
    : ''
  const about = props.about && (props.explain || shown.value === '') ? props.about : ''
  if (shown.value === '')
    return [about, props.optional ? 'not given' : 'missing', share && '0.05 means 5 %']
      .filter(Boolean)
      .join('; ')
  return [about, percent, source].filter(Boolean).join(' · ')
})
type Typed = HTMLInputElement | HTMLTextAreaElement
function type(event: Event) {
  if (draft.value === null) seen = props.fact.version
  draft.value = (event.target as Typed).value
  emit('typing', draft.value.trim())
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
        <select
          v-if="kind === 'choice'"
          :id="id"
          :value="text"
          :disabled="disabled"
          @change="emit('keep', ($event.target as HTMLSelectElement).value)"
        >
          <option value="">Choose</option>
          <option v-for="one in choices" :key="one">{{ one }}</option>
        </select>
        <textarea
          v-else-if="kind === 'long'"
          :id="id"
          rows="4"
          :value="shown"
          :disabled="disabled"
          :aria-invalid="invalid"
          @input="type"
          @blur="leave"
        />
        <input
          v-else
          :id="id"
          :type="kind === 'date' ? 'date' : 'text'"
          :inputmode="kind ? undefined : 'decimal'"
          :list="kind === 'text' && choices ? `${id}-known` : undefined"
          :value="shown"
          :disabled="disabled"
          :aria-invalid="invalid"
          :size="kind === 'text' ? 30 : 9"
          @input="type"
          @blur="leave"
          @change="leave"
        />
        <datalist v-if="kind === 'text' && choices" :id="`${id}-known`">
          <option v-for="one in choices" :key="one" :value="one" />
        </datalist>
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
input,
textarea {
  max-width: 100%;
  min-width: 0;
}
textarea {
  width: 100%;
}
.row:has(textarea) {
  display: block;
}
.point {
  border-left: 3px double var(--care);
  padding-left: 6px;
  font-size: 13px;
}
</style>
