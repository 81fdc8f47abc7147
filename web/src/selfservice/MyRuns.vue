<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'

/** Runs that the reader started, the latest first, each in a sentence. */
defineProps<{ runs: Schemas['MyServiceRun'][] }>()
</script>

<template>
  <ul class="lines">
    <li v-for="one in runs" :key="one.id">
      <Glyph :state="one.state" bare />
      <div class="grow">
        <router-link class="whole" :to="`/self-service/runs/${one.id}`">{{ one.title }}</router-link>
        <div class="quiet">
          {{ one.said }}<template v-if="one.files">, {{ several(one.files, 'file', 'files') }}</template>
        </div>
      </div>
      <span class="quiet"><When :at="one.ended_at ?? one.made_at" near /></span>
    </li>
  </ul>
</template>

<style scoped>
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.lines li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
}
.grow {
  flex: 1;
  min-width: 0;
}
</style>
