<script setup lang="ts">
import type { Question } from '@/shared/questions'
import QuestionDrawing from './QuestionDrawing.vue'

/** One question as it is asked: its words, its help, its drawing. */
defineProps<{ question: Question }>()
</script>

<template>
  <div class="asked">
    <div>
      <h1>{{ question.text }}</h1>
      <p class="lead">{{ question.help }}</p>
    </div>
    <QuestionDrawing :question="question.key" />
  </div>
</template>

<style scoped>
.asked {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  align-items: flex-start;
}
@media (max-width: 560px) {
  .asked :deep(.drawing) {
    width: 56px;
    height: 48px;
  }
}
</style>
