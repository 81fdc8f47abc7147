<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { wordsOf } from '@/shared/fieldLink'
import { number, share } from '@/shared/format'

/** The first look: hours in reach and fit, as ranges, each with its working. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const fit = computed(() => props.idea.look.steps[0])
const width = computed(() => fit.value?.steps[0]?.outcome ?? '')
</script>

<template>
  <div class="row look">
    <Figure
      name="reach"
      label="Hours in reach a year"
      large
      :working="idea.look"
      :text="idea.hours_low ? `${number(idea.hours_low)}–${number(idea.hours_high)} h` : 'not known yet'"
    >
      <template v-if="idea.look.missing.length"
        >not known: {{ idea.look.missing.map(wordsOf).join(', ') }}</template
      >
      <template v-else>{{ idea.look.note }}</template>
    </Figure>
    <Figure
      name="fit"
      label="Fit for a robot"
      large
      :working="fit"
      :text="`${share(idea.fit_low)} to ${share(idea.fit_high)}`"
    >
      {{ width }} until more is on file
    </Figure>
  </div>
</template>

<style scoped>
.look {
  gap: 56px;
  align-items: flex-start;
}
</style>
