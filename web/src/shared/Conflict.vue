<script setup lang="ts">
import type { ProblemError } from '@/api/client'

/** Two people changed one thing: both texts, and the choice. */
defineProps<{ clash: ProblemError | null }>()
const emit = defineEmits<{ settle: [mine: boolean] }>()
function text(value: unknown): string {
  if (Array.isArray(value)) return value.map(text).join('; ')
  if (value && typeof value === 'object') return Object.values(value).join(', ')
  return value === null || value === undefined ? 'nothing' : String(value)
}
</script>

<template>
  <div v-if="clash" class="note bad stack tight" role="alert">
    <p>{{ clash.message }}</p>
    <p>
      Theirs: <b>{{ text(clash.more.theirs) }}</b><br />Yours: <b>{{ text(clash.more.yours) }}</b>
    </p>
    <p class="row">
      <el-button @click="emit('settle', false)">Keep theirs</el-button>
      <el-button type="primary" @click="emit('settle', true)">Keep mine</el-button>
    </p>
  </div>
</template>
