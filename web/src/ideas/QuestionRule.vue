<script setup lang="ts">
import type { InterviewDraft } from './interviewDraft'

/** One question of an interview: its words, its place, whether it is needed. */
type Question = InterviewDraft['steps'][number]['questions'][number]
defineProps<{ first: boolean; last: boolean; always: boolean; fault?: string }>()
// Changed in place: the interview that is edited holds it.
const question = defineModel<Question>({ required: true })
const emit = defineEmits<{ shift: [by: 1 | -1]; take: [] }>()
const KINDS = {
  line: 'a line of text',
  text: 'several lines',
  figure: 'a number',
  choice: 'one of some choices',
}
function choices(question: Question, event: Event) {
  question.choices = (event.target as HTMLTextAreaElement).value
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
}
</script>

<template>
  <div class="question">
    <div class="words">
      <input
        v-model="question.text"
        type="text"
        maxlength="220"
        aria-label="Question"
        :aria-invalid="!!fault"
        class="text"
      />
      <input
        v-model="question.help"
        type="text"
        maxlength="220"
        aria-label="Help below it"
        placeholder="a line of help"
        class="text help"
      />
      <div v-if="!question.standard" class="row">
        <label class="row"
          >answered by
          <select v-model="question.kind" aria-label="How it is answered">
            <option v-for="(words, kind) in KINDS" :key="kind" :value="kind">{{ words }}</option>
          </select></label
        >
        <textarea
          v-if="question.kind === 'choice'"
          rows="3"
          aria-label="Choices, one to a line"
          placeholder="one choice to a line"
          :value="question.choices.join('\n')"
          @change="choices(question, $event)"
        />
      </div>
      <p v-if="fault" class="quiet bad" role="alert">{{ fault }}</p>
    </div>
    <div class="row tools">
      <label
        v-if="question.kind !== 'files'"
        class="row"
        :title="always ? 'Always needed: nothing is found or talked about without it' : ''"
        ><input v-model="question.needed" type="checkbox" :disabled="always" /> needed</label
      >
      <button
        class="plain"
        :disabled="first"
        :aria-label="`Move up: ${question.text}`"
        @click="emit('shift', -1)"
      >
        ↑
      </button>
      <button
        class="plain"
        :disabled="last"
        :aria-label="`Move down: ${question.text}`"
        @click="emit('shift', 1)"
      >
        ↓
      </button>
      <button v-if="!always" class="plain bad" @click="emit('take')">Take out</button>
    </div>
  </div>
</template>

<style scoped>
.question {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 16px;
  padding: 6px 0 10px 16px;
  border-bottom: 1px solid var(--hair);
}
.words {
  display: grid;
  gap: 2px;
}
.text {
  width: 100%;
  border-color: transparent;
  font-weight: 600;
  padding: 1px 0;
}
.text:hover,
.text:focus {
  border-color: var(--hair-2);
  padding-left: 8px;
}
.help {
  font-weight: 400;
  color: var(--ink-2);
  font-size: 12.5px;
}
.tools {
  gap: 12px;
  align-self: start;
  padding-top: 5px;
}
textarea {
  width: 260px;
}
</style>
