<script setup lang="ts">
import { computed } from 'vue'

/** Inputs that have a value and that the chosen release takes no more: they are named, and left out by a press. */
const props = defineProps<{ schema: Record<string, unknown> }>()
const inputs = defineModel<Record<string, unknown>>({ required: true })
const known = computed(() => props.schema.properties as Record<string, unknown> | undefined)
const dropped = computed(() =>
  known.value ? Object.keys(inputs.value).filter((name) => !(name in (known.value ?? {}))) : [],
)
const leaveOut = () =>
  (inputs.value = Object.fromEntries(
    Object.entries(inputs.value).filter(([name]) => !dropped.value.includes(name)),
  ))
</script>

<template>
  <div v-if="dropped.length" class="note care row" role="status">
    <span>
      This release does not take
      <template v-for="(name, n) in dropped" :key="name"
        >{{ n ? ', ' : '' }}<b>{{ name }}</b> (now {{ JSON.stringify(inputs[name]) }})</template
      >.
    </span>
    <el-button @click="leaveOut">Leave {{ dropped.length === 1 ? 'it' : 'them' }} out</el-button>
  </div>
</template>
