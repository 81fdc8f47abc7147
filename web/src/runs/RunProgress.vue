<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { number } from '@/shared/format'
import Progress from '@/shared/Progress.vue'

/** How far a run says it is: a bar where the whole is known, else what is done. */
defineProps<{ progress: Schemas['RunProgress'] }>()
</script>

<template>
  <p class="row" role="status">
    <Progress
      v-if="progress.done !== null && progress.of"
      :done="progress.done"
      :of="progress.of"
      label="How far the run is"
    />
    <span>
      <template v-if="progress.done !== null"
        >{{ number(String(progress.done))
        }}<template v-if="progress.of"> of {{ number(String(progress.of)) }}</template> done</template
      ><template v-if="progress.words">{{ progress.done !== null ? ', ' : '' }}{{ progress.words }}</template>
    </span>
  </p>
</template>
