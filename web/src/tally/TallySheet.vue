<script setup lang="ts">
import type { Schemas } from '@/api/client'
import IdeaCounts from './IdeaCounts.vue'
import IdeaMeasure from './IdeaMeasure.vue'
import IdeaTally from './IdeaTally.vue'

/** The tally of an idea: promised against delivered, and where it is no routine that counts, what does. */
defineProps<{ idea: Schemas['IdeaWhole'] }>()
</script>

<template>
  <div class="stack">
    <IdeaTally
      v-if="idea.may.see_tally"
      :idea="idea.id"
      :by-hand="idea.route !== 'robot' || idea.source === 'runs already'"
    />
    <IdeaMeasure :idea="idea.id" :live-on="idea.live_on" />
    <IdeaCounts :idea="idea.id" />
  </div>
</template>
