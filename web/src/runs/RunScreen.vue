<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Fold from '@/shared/Fold.vue'
import When from '@/shared/When.vue'

/** What the screen of a run showed when it stalled, for whoever may read its log; or why there is no picture. */
defineProps<{ run: number; screen: Schemas['ScreenShown']; open: boolean }>()
</script>

<template>
  <p v-if="!screen.there" class="quiet" data-screen>
    A picture of its screen was asked for when it stalled, <When :at="screen.at" />; there is none:
    {{ screen.said }}.
  </p>
  <Fold v-else words="Its screen when it stalled" :open="open">
    <figure data-screen>
      <img
        :src="`/api/v1/runs/${run}/screen?at=${encodeURIComponent(screen.at)}`"
        :alt="`What the screen of R-${run} showed when it stalled`"
      />
      <figcaption class="quiet">Taken <When :at="screen.at" />; seen by whoever may read the log.</figcaption>
    </figure>
  </Fold>
</template>

<style scoped>
figure {
  margin: 0;
}
img {
  display: block;
  max-width: 100%;
  border: 1px solid var(--hair-2);
}
</style>
