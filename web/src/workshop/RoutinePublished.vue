<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Whether colleagues start a routine themselves, and the page on which they do. */
defineProps<{ routine: Schemas['Routine'] }>()
</script>

<template>
  <section>
    <h2>Self-service</h2>
    <p>
      <template v-if="routine.published"
        >Colleagues start it themselves as
        <router-link :to="`/workshop/routines/${routine.id}/self-service`">{{
          routine.published.title
        }}</router-link>, {{ routine.published.state }}.</template
      ><template v-else>
        Not published: only who may start runs here starts it.
        <router-link :to="`/workshop/routines/${routine.id}/self-service`">{{
          routine.may.decide ? 'Publish it to colleagues' : 'What that would take'
        }}</router-link>
      </template>
    </p>
  </section>
</template>
