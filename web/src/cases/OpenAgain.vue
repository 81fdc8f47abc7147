<script setup lang="ts">
import type { Schemas } from '@/api/client'
import When from '@/shared/When.vue'

/** Before a fact of a sizing is changed that somebody agreed to, or looks at: what the change undoes. */
defineProps<{ sizing: Schemas['Sizing'] }>()
const emit = defineEmits<{ open: [] }>()
</script>

<template>
  <div class="note care row">
    <p>
      <template v-if="sizing.state === 'agreed'">
        {{ sizing.agreed_by }} agreed to these facts on <When :at="sizing.agreed_at" day />. A change takes
        that back: the idea is screened again, and once you offer the sizing anew, the lead or another analyst
        is asked to agree.
      </template>
      <template v-else>
        These facts wait for somebody else's agreement. A change takes them back from there; offer the sizing
        again when you are done.
      </template>
    </p>
    <el-button @click="emit('open')">Change a fact</el-button>
  </div>
</template>
