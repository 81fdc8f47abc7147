<script setup lang="ts">
import { computed, ref } from 'vue'
import { useFocusOf } from './focus'
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
  /** Whether the form around it sees to the focus. */
  sheet?: boolean
}>()
const emit = defineEmits<{ leave: [] }>()
// Where there is a way out the form was opened: its first field takes the focus.
const end = ref<HTMLElement | null>(null)
useFocusOf(() => end.value?.closest('form'), props.leave !== undefined && !props.sheet)
const waits = computed(() => props.busy || !!props.wait)
</script>

<template>
  <Problem :error="error" :fields="fields" />
  <p ref="end" class="row">
    <el-button :disabled="waits" type="primary" native-type="submit">{{ action }}</el-button>
    <el-button v-if="leave" @click="emit('leave')">{{ leave }}</el-button>
    <slot />
    <span v-if="wait" class="quiet">{{ wait }}</span>
  </p>
</template>
