<script setup lang="ts">
import { api, ask } from '@/api/client'
import ListIn from '@/shared/ListIn.vue'

/** Many robots at once, from a table that is pasted or a CSV file. */
const emit = defineEmits<{ leave: [] }>()
const look = (text: string) => ask(api.POST('/api/v1/robots/list/look', { body: { text } }))
const bring = (text: string) => ask(api.POST('/api/v1/robots/list', { body: { text } }))
const EXAMPLE =
  'robot;host;areas;tags;account\nDipper 3;Weir;Metering, Street works;letters;\nDipper 4;Weir;Metering;;'
</script>

<template>
  <div class="note">
    <ListIn
      title="Add many robots"
      head="Robot"
      label="List of robots"
      :look="look"
      :bring="bring"
      :pasted="EXAMPLE"
    >
      <p class="quiet">
        A line for each, below a line of heads: <b>robot</b> and <b>host</b>; <b>areas</b>, <b>tags</b> and
        <b>account</b> where there are any, several parted by commas. Copied out of a spreadsheet, or as CSV.
        Below, each robot then says what it still lacks.
      </p>
      <template #leave><el-button @click="emit('leave')">Close</el-button></template>
    </ListIn>
  </div>
</template>
