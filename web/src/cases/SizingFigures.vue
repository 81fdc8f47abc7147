<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { number, share } from '@/shared/format'

/** What follows from a sizing: volume, share and effort, judged or computed, each with its working. */
defineProps<{
  results: Schemas['Sizing']['results']
  live: boolean
  shareReason: string
  effortReason: string
}>()
</script>

<template>
  <div class="row figures" :class="{ live: live }">
    <Figure
      name="volume"
      label="Volume a year"
      large
      :working="results.working.volume"
      :text="number(results.volume_per_year)"
    >
      {{
        results.hours_per_year
          ? `${number(results.hours_per_year)} h by hand`
          : 'hours need volume and minutes'
      }}
    </Figure>
    <Figure
      name="share"
      label="Automatable share"
      large
      :working="results.working.share"
      :text="share(results.automatable_share, 1)"
    >
      <template v-if="results.computed_share !== results.automatable_share">
        by judgement; computed {{ share(results.computed_share, 1) }}:
        {{ shareReason || 'no reason given' }}
      </template>
    </Figure>
    <Figure
      name="effort"
      label="Build effort"
      large
      :working="results.working.effort"
      :text="results.effort_days ? `${number(results.effort_days, 1)} days` : '–'"
    >
      {{
        results.band ?? 'missing: ' + (results.working.effort?.missing ?? []).join(', ').replaceAll('_', ' ')
      }}
      <template v-if="results.computed_effort !== results.effort_days && results.effort_days">
        by judgement; computed
        {{ results.computed_effort ? `${number(results.computed_effort, 1)} days` : 'not yet' }}:
        {{ effortReason || 'no reason given' }}
      </template>
    </Figure>
    <p v-if="live" class="quiet">As typed; kept when you leave the field.</p>
  </div>
</template>
