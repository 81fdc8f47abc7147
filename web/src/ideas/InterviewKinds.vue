<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** How somebody would like to be asked. */
defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ choose: [kind: string] }>()
</script>

<template>
  <fieldset class="kinds">
    <legend class="quiet">How would you like to be asked?</legend>
    <el-radio
      v-for="one in idea.interviews"
      :key="one.kind"
      :class="{ on: idea.interview === one.kind }"
      name="interview"
      :model-value="idea.interview"
      @change="emit('choose', one.kind)"
      ><span>
        <b>{{ one.title }}</b>
        <span class="quiet">{{ one.about }}</span>
      </span></el-radio
    >
  </fieldset>
</template>

<style scoped>
.kinds {
  border: 0;
  border-top: 1px solid var(--hair);
  padding: 10px 0 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
}
.kinds label {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  max-width: 240px;
}
.kinds label span {
  display: block;
}
.kinds .on b {
  border-bottom: 2px solid var(--ink);
}
</style>
