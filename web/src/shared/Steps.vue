<script setup lang="ts">
import Glyph from './Glyph.vue'

/** Steps that are done one after the other: which are done, where each is done, and what is known of it. */
export interface Step {
  title: string
  words?: string
  link?: string
  fact?: string
  done: boolean
}
defineProps<{ steps: readonly Step[] }>()
</script>

<template>
  <ol class="steps">
    <li v-for="(step, n) in steps" :key="step.title">
      <Glyph :state="step.done ? 'done' : 'waiting'" :word="step.done ? 'done' : `step ${n + 1}`" />
      <div>
        <router-link v-if="step.link" class="whole" :to="step.link">{{ step.title }}</router-link>
        <template v-else>{{ step.title }}</template>
        <div v-if="step.words" class="quiet">{{ step.words }}</div>
        <slot :step="step" :number="n + 1" />
      </div>
      <span class="quiet">{{ step.fact }}</span>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 96px 1fr auto;
  gap: 12px;
  align-items: start;
  padding: 7px 0;
  border-bottom: 1px solid var(--hair);
}
a.whole {
  color: var(--ink);
  font-weight: 600;
}
</style>
