<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Question } from '@/shared/questions'
import WorkingView from '@/shared/WorkingView.vue'

/** Beside an interview: what can be said already, or what it is and how long it takes. */
const props = defineProps<{
  idea: Schemas['IdeaWhole'] | undefined
  questions: Question[]
  asked: string | undefined
}>()
// With volume and minutes the hours in reach can be said, however wide.
const sized = computed(() =>
  ['volume', 'minutes'].every(
    (key) => (props.questions.find((one) => one.key === key)?.value ?? null) !== null,
  ),
)
const answered = computed(
  () => props.questions.filter((one) => one.value !== null && one.value !== undefined).length,
)
</script>

<template>
  <section v-if="idea && (sized || answered > 3)" class="stack tight">
    <span class="quiet">As far as answered</span>
    <WorkingView :working="idea.look" />
  </section>
  <section v-else-if="!idea || idea.stage === 'draft'" class="stack tight">
    <h2>Five minutes</h2>
    <p class="quiet">
      One question at a time; guesses are welcome and “I do not know” is an answer. Everything is kept as you
      go, so you can leave and come back. At the end you see how many hours may be in reach.
    </p>
  </section>
  <p v-if="asked === 'title' && !answered" class="quiet">
    Nothing comes to mind? <router-link to="/ideas/begin">Typical work to begin with</router-link>
  </p>
</template>
