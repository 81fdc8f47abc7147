<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import { later } from '@/shared/later'
import Thread from '@/shared/Thread.vue'
import When from '@/shared/When.vue'

const IdeaMoves = later(() => import('./IdeaMoves.vue'))

/** Where an idea stands on its way, what comes next, and what can be done about it. */
defineProps<{ idea: Schemas['IdeaWhole'] }>()
</script>

<template>
  <Thread :stages="idea.thread" />
  <p>
    <b>Next:</b> {{ idea.next.words
    }}<template v-if="idea.next.due">, by <When :at="idea.next.due" /></template>.
    <span v-if="idea.next.days_late" class="bad"
      >{{ several(idea.next.days_late, 'day', 'days') }} late.</span
    >
    <span v-if="idea.building" class="quiet">
      {{ idea.route === 'robot' ? 'Building' : `Another route, ${idea.route}` }}: {{ idea.building
      }}<template v-if="idea.builder">, by {{ idea.builder }}</template
      >.
    </span>
  </p>
  <p v-if="idea.merged_into" class="note">
    It goes on in
    <router-link :to="`/ideas/${idea.merged_into}`"
      >I-{{ idea.merged_into }} {{ idea.merged_title }}</router-link
    >; what was said and shown here stays.
  </p>
  <p v-if="idea.handed_in_on" class="quiet">
    Handed in on <When :at="idea.handed_in_on" />, before it came here.
  </p>
  <p v-if="idea.runs_on">Runs on {{ idea.runs_on }}.</p>
  <p v-if="idea.amendments.length" class="note">
    Changes asked for:
    <span v-for="(one, n) in idea.amendments" :key="one.id"
      >{{ n ? ', ' : '' }}<router-link :to="`/ideas/${one.id}`">I-{{ one.id }} {{ one.title }}</router-link>
      <span class="quiet"> {{ one.stage }}</span></span
    >
  </p>
  <IdeaMoves :idea="idea" />
</template>
