<script setup lang="ts">
import type { Schemas } from '@/api/client'
import type { Question } from '@/shared/questions'

/** How far an interview is: one stroke for each question. */
defineProps<{
  idea: Schemas['IdeaWhole'] | undefined
  questions: Question[]
  question: Question
  place: number
}>()
</script>

<template>
  <div>
    <p class="quiet">
      {{ idea?.amends_id ? `A change to I-${idea.amends_id} ${idea.amends_title}` : 'Hand in an idea' }}
      · {{ question.step }} · question {{ place + 1 }} of {{ questions.length }}
    </p>
    <div class="strokes" aria-hidden="true">
      <i
        v-for="(one, n) in questions"
        :key="one.key"
        :class="{ on: n <= place, there: one.value !== null }"
      />
    </div>
  </div>
</template>

<style scoped>
.strokes {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.strokes i {
  width: 2px;
  height: 14px;
  background: var(--hair-2);
}
.strokes i.there {
  background: var(--ink-2);
}
.strokes i.on {
  background: var(--act);
}
</style>
