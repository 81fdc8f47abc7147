<script setup lang="ts">
import { computed } from 'vue'
import Problem from './Problem.vue'

/** The end of a form: what is wrong, the act, the way out, and why the act waits. */
const props = defineProps<{
  action: string
  busy: boolean
  error: unknown
  /** Names of fields that show their own faults. */
  fields?: string[]
  /** Why it cannot be sent yet; said beside the button, which waits. */
  wait?: string
  /** The way out without keeping anything; nothing, where there is none. */
  leave?: string
}>()
const emit = defineEmits<{ leave: [] }>()
const waits = computed(() => props.busy || !!props.wait)
</script>

<template>
  <Problem :error="error" :fields="fields" />
  <p class="row">
    <el-button :disabled="waits" type="primary" native-type="submit">{{ action }}</el-button>
    <el-button v-if="leave" @click="emit('leave')">{{ leave }}</el-button>
    <slot />
    <span v-if="wait" class="quiet">{{ wait }}</span>
  </p>
</template>
