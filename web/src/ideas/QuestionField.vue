<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import PickPerson from '@/people/PickPerson.vue'
import PickDivision from './PickDivision.vue'
import { KINDS, RHYTHMS, type Kind, type Question, type Volume } from './questions'

/** The field of one question, by how it is answered. */
type Asked = Pick<Question, 'key' | 'kind' | 'text' | 'choices'>
const props = defineProps<{ question: Asked; fault?: string; still?: boolean }>()
const value = defineModel<unknown>({ required: true })

// The hands stay on the keyboard: each question's field has the focus when it comes.
const place = ref<HTMLElement | null>(null)
onMounted(() => !props.still && place.value?.querySelector<HTMLElement>('input, textarea, select')?.focus())

const text = computed({
  get: () => (value.value === null || value.value === undefined ? '' : String(value.value)),
  set: (now: string | number) => (value.value = String(now)),
})
const volume = computed(() => (value.value as Volume | null) ?? { amount: '', rhythm: 'week' })
const kinds = computed(() => (value.value as Kind[] | null) ?? [])
const part = (kind: string): string => kinds.value.find((row) => row.kind === kind)?.part ?? ''

function setVolume(change: Partial<Volume>) {
  value.value = { ...volume.value, ...change }
}
function setPart(kind: string, now: string) {
  const rest = kinds.value.filter((row) => row.kind !== kind)
  const next = now === '' || Number(now) === 0 ? rest : [...rest, { kind, part: now }]
  value.value = next.length ? KINDS.flatMap((name) => next.filter((row) => row.kind === name)) : null
}
const tenths = ['0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '10']
const name = computed(() => `q-${props.question.key}`)
</script>

<template>
  <div ref="place" class="answer" :data-question="question.key">
    <input
      v-if="question.kind === 'line'"
      v-model="text"
      type="text"
      :aria-label="question.text"
      maxlength="200"
      size="48"
    />
    <textarea
      v-else-if="question.kind === 'text'"
      v-model="text"
      :aria-label="question.text"
      rows="5"
      maxlength="4200"
    />
    <PickDivision
      v-else-if="question.kind === 'division'"
      :model-value="typeof value === 'number' ? value : null"
      :label="question.text"
      @update:model-value="(now: number | null) => (value = now)"
    />
    <div v-else-if="question.kind === 'volume'" class="row">
      <input
        type="text"
        inputmode="decimal"
        size="8"
        aria-label="How many"
        :value="volume.amount"
        @input="setVolume({ amount: ($event.target as HTMLInputElement).value.trim() })"
      />
      <span>a</span>
      <select
        aria-label="Rhythm"
        :value="volume.rhythm"
        @change="setVolume({ rhythm: ($event.target as HTMLSelectElement).value })"
      >
        <option v-for="rhythm in RHYTHMS" :key="rhythm">{{ rhythm }}</option>
      </select>
    </div>
    <input
      v-else-if="question.kind === 'figure'"
      v-model="text"
      type="text"
      inputmode="decimal"
      size="12"
      :aria-label="question.text"
    />
    <div v-else-if="question.kind === 'number'" class="row">
      <input v-model="text" type="text" inputmode="decimal" size="8" :aria-label="question.text" />
      <span>minutes</span>
    </div>
    <fieldset v-else-if="question.kind === 'of ten'" class="ten">
      <legend class="quiet">of ten</legend>
      <label v-for="tenth in tenths" :key="tenth" :class="{ on: text === tenth }">
        <input v-model="text" type="radio" :name="name" :value="tenth" />{{ tenth }}
      </label>
    </fieldset>
    <fieldset v-else-if="question.kind === 'choice'" class="choice">
      <label v-for="choice in question.choices" :key="choice.value" :class="{ on: value === choice.value }">
        <input v-model="value" type="radio" :name="name" :value="choice.value" />{{ choice.words }}
      </label>
    </fieldset>
    <div v-else-if="question.kind === 'arrives'" class="kinds">
      <label v-for="kind in KINDS" :key="kind" :class="{ on: part(kind) }">
        <input
          type="number"
          min="0"
          max="1000"
          :value="part(kind)"
          :aria-label="`Part of ${kind}`"
          @input="setPart(kind, ($event.target as HTMLInputElement).value)"
        />
        {{ kind }}
      </label>
    </div>
    <PickPerson
      v-else-if="question.kind === 'person'"
      :model-value="(value as number | null) ?? null"
      :label="question.text"
      @update:model-value="(now: number | null) => (value = now)"
    />
    <p v-if="fault" class="bad" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.answer {
  display: grid;
  gap: 8px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.ten,
.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.ten label,
.choice label,
.kinds label {
  border: 1px solid var(--hair-2);
  padding: 5px 9px;
  cursor: pointer;
}
.kinds {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 6px;
}
.kinds input {
  width: 56px;
  margin-right: 6px;
}
label.on {
  border-color: var(--act);
  background: var(--act-soft);
}
input[type='radio'] {
  accent-color: var(--act);
  margin: 0 5px 0 0;
}
</style>
