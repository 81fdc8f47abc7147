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
      <template v-if="idea?.amends_id">A change to I-{{ idea.amends_id }} {{ idea.amends_title }}</template>
      <template v-else-if="idea?.title && question.key !== 'title'">Hand in “{{ idea.title }}”</template>
      <template v-else>Hand in an idea</template>
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
