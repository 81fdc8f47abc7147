<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import PersonField from '@/shared/PersonField.vue'
import DivisionField from '@/shared/DivisionField.vue'
import { ARRIVES_AS, RHYTHMS } from '@/api/words'
import type { Kind, Question, Volume } from '@/shared/questions'
import NumberField from '@/shared/NumberField.vue'
import Choice from './Choice.vue'

/** The field of one question, by how it is answered. */
type Asked = Pick<Question, 'key' | 'kind' | 'text' | 'choices'>
const props = defineProps<{ question: Asked; fault?: string; still?: boolean }>()
const value = defineModel<unknown>({ required: true })

// The hands stay on the keyboard: each question's field has the focus when it comes.
const place = ref<HTMLElement | null>(null)
onMounted(() => !props.still && place.value?.querySelector<HTMLElement>('input, textarea, select')?.focus())

const text = computed({
  get: () => (value.value === null || value.value === undefined ? '' : String(value.value)),
  set: (now: string | number | null) => (value.value = String(now ?? '')),
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
  value.value = next.length ? ARRIVES_AS.flatMap((name) => next.filter((row) => row.kind === name)) : null
}
const tenths = ['0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '10']
const name = computed(() => `q-${props.question.key}`)
</script>

<template>
  <div ref="place" class="answer" :data-question="question.key">
    <el-input
      v-if="question.kind === 'line'"
      v-model="text"
      :aria-label="question.text"
      maxlength="200"
      style="--chars: 48"
    />
    <el-input
      v-else-if="question.kind === 'text'"
      v-model="text"
      :aria-label="question.text"
      :rows="5"
      maxlength="4200"
      type="textarea"
    />
    <DivisionField
      v-else-if="question.kind === 'division'"
      :model-value="typeof value === 'number' ? value : null"
      :label="question.text"
      @update:model-value="(now: number | null) => (value = now)"
    />
    <div v-else-if="question.kind === 'volume'" class="row">
      <NumberField
        :model-value="volume.amount"
        label="How many"
        @update:model-value="(now) => setVolume({ amount: String(now ?? '') })"
      />
      <span>a</span>
      <Choice
        :model-value="volume.rhythm"
        :options="RHYTHMS"
        label="Rhythm"
        @update:model-value="(now) => setVolume({ rhythm: now })"
      />
    </div>
    <NumberField v-else-if="question.kind === 'figure'" v-model="text" :chars="12" :label="question.text" />
    <div v-else-if="question.kind === 'number'" class="row">
      <NumberField v-model="text" kind="minutes" unit="minutes" :label="question.text" />
    </div>
    <fieldset v-else-if="question.kind === 'of ten'" class="ten">
      <legend class="quiet">of ten</legend>
      <el-radio
        v-for="tenth in tenths"
        :key="tenth"
        v-model="text"
        :class="{ on: text === tenth }"
        :name="name"
        :value="tenth"
        >{{ tenth }}</el-radio
      >
    </fieldset>
    <fieldset v-else-if="question.kind === 'choice'" class="choice">
      <el-radio
        v-for="choice in question.choices"
        :key="choice.value"
        :model-value="text"
        :class="{ on: value === choice.value }"
        :name="name"
        :value="choice.value"
        @change="value = choice.value"
        >{{ choice.words }}</el-radio
      >
    </fieldset>
    <div v-else-if="question.kind === 'arrives'" class="kinds">
      <label v-for="kind in ARRIVES_AS" :key="kind" :class="{ on: part(kind) }">
        <NumberField
          :model-value="part(kind)"
          :label="`Part of ${kind}`"
          :min="0"
          :max="1000"
          :chars="5"
          @update:model-value="(now) => setPart(kind, String(now ?? ''))"
        />
        {{ kind }}
      </label>
    </div>
    <PersonField
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
