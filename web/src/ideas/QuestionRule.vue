<script setup lang="ts">
import { ref } from 'vue'
import type { InterviewDraft } from './interviewDraft'
import Choice from '@/shared/Choice.vue'

/** One question of an interview: its words, its place, whether it is needed. */
type Question = InterviewDraft['steps'][number]['questions'][number]
defineProps<{ first: boolean; last: boolean; always: boolean; fault?: string }>()
// Changed in place: the interview that is edited holds it.
const question = defineModel<Question>({ required: true })
const emit = defineEmits<{ shift: [by: 1 | -1]; take: [] }>()
const KINDS = [
  { value: 'line', words: 'a line of text' },
  { value: 'text', words: 'several lines' },
  { value: 'figure', words: 'a number' },
  { value: 'choice', words: 'one of some choices' },
] as const
// Kept as typed while it is typed, so that a line can be begun.
const lines = ref(question.value.choices.join('\n'))
function choices(question: Question, now: string) {
  lines.value = now
  question.choices = now
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
}
</script>

<template>
  <div class="question">
    <div class="words">
      <el-input
        v-model="question.text"
        maxlength="220"
        aria-label="Question"
        :aria-invalid="!!fault"
        class="text"
      />
      <el-input
        v-model="question.help"
        maxlength="220"
        aria-label="Help below it"
        placeholder="a line of help"
        class="text help"
      />
      <div v-if="!question.standard" class="row">
        <label class="row"
          >answered by <Choice v-model="question.kind" :options="KINDS" label="How it is answered"
        /></label>
        <el-input
          v-if="question.kind === 'choice'"
          type="textarea"
          :rows="3"
          aria-label="Choices, one to a line"
          placeholder="one choice to a line"
          :model-value="lines"
          @input="(now: string) => choices(question, now)"
        />
      </div>
      <p v-if="fault" class="quiet bad" role="alert">{{ fault }}</p>
    </div>
    <div class="row tools">
      <el-checkbox
        v-if="question.kind !== 'files'"
        v-model="question.needed"
        :title="always ? 'Always needed: nothing is found or talked about without it' : ''"
        :disabled="always"
        >needed</el-checkbox
      >
      <el-button
        :disabled="first"
        :aria-label="`Move up: ${question.text}`"
        link
        type="primary"
        @click="emit('shift', -1)"
      >
        ↑
      </el-button>
      <el-button
        :disabled="last"
        :aria-label="`Move down: ${question.text}`"
        link
        type="primary"
        @click="emit('shift', 1)"
      >
        ↓
      </el-button>
      <el-button v-if="!always" link type="danger" @click="emit('take')">Take out</el-button>
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
