<script setup lang="ts">
import { computed } from 'vue'
import Glyph from './Glyph.vue'
import When from './When.vue'

/** The thread of something along the top: what was reached, when, by whom, where it is, and what is next. */
export interface Reached {
  stage: string
  at?: string | null
  by?: string | null
  now: boolean
  /** From which day it is so, where that is not when it was said. */
  on?: string | null
}
const props = defineProps<{ label?: string; stages: readonly Reached[] }>()
// What runs already, or came in by the team, never stood in every stage before.
const last = computed(() => props.stages.findLastIndex((stage) => !!stage.at))
</script>

<template>
  <ol class="thread" :aria-label="label ?? 'Thread'">
    <li
      v-for="(stage, at) in stages"
      :key="stage.stage"
      :class="{ now: stage.now, there: stage.at }"
      :aria-current="stage.now ? 'step' : undefined"
    >
      <Glyph v-if="stage.at" :state="stage.stage" />
      <span v-else class="quiet">{{ stage.stage }}</span>
      <div class="quiet">
        <template v-if="stage.on">since <When :at="stage.on" />, {{ stage.by }}</template>
        <template v-else-if="stage.at"><When :at="stage.at" day />, {{ stage.by }}</template>
        <template v-else>{{ at < last ? 'left out' : 'not yet' }}</template>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.thread {
  display: flex;
  margin: 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--hair-2);
  border-bottom: 1px solid var(--hair-2);
}
li {
  flex: 1;
  padding: 7px 8px 7px 0;
  border-bottom: 2px solid transparent;
  margin-bottom: -1px;
  min-width: 0;
}
li.now {
  border-bottom-color: var(--act);
}
@media (max-width: 700px) {
  .thread {
    flex-wrap: wrap;
  }
  li {
    flex-basis: 45%;
  }
}
</style>
