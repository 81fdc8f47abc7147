<script setup lang="ts">
import Field from '@/shared/Field.vue'
import TimeField from '@/shared/TimeField.vue'
import WholeField from '@/shared/WholeField.vue'
import type { Draft } from './triggerForm'
import Choice from '@/shared/Choice.vue'

/** What bounds the times of a start: zone, closed days, what was missed, its window. */
defineProps<{ faults: (...names: string[]) => string | undefined }>()
const ON_CLOSED = [
  { value: 'run', words: 'start all the same' },
  { value: 'skip', words: 'do not start' },
  { value: 'next', words: 'start on the next open day' },
  { value: 'previous', words: 'start on the open day before' },
] as const
const MISSED = [
  { value: 'once', words: 'make up for all by one start' },
  { value: 'all', words: 'make up for each' },
  { value: 'skip', words: 'leave out' },
] as const
const draft = defineModel<Draft>({ required: true })
</script>

<template>
  <div class="stack tight">
    <div class="row top">
      <Field v-slot="{ id }" label="Zone" :fault="faults('zone')">
        <el-input :id="id" v-model="draft.zone" style="--chars: 18" />
      </Field>
      <Field v-slot="{ id }" label="On closed days">
        <Choice :id="id" v-model="draft.onClosed" :options="ON_CLOSED" />
      </Field>
      <Field v-slot="{ id }" label="Missed while the engine was away">
        <Choice :id="id" v-model="draft.missed" :options="MISSED" />
      </Field>
      <Field
        v-if="draft.missed !== 'skip'"
        v-slot="{ id }"
        label="up to an age of, hours"
        :fault="faults('missed_hours')"
      >
        <WholeField :id="id" v-model="draft.missedHours" :min="0" />
      </Field>
      <Field
        v-slot="{ id }"
        label="Lapses when not begun after, minutes"
        help="empty: it waits as long as it takes"
        :fault="faults('latest_minutes')"
      >
        <WholeField :id="id" v-model="draft.latest" :min="1" />
      </Field>
    </div>
    <div class="row">
      <el-checkbox v-model="draft.windowed">only within a window</el-checkbox>
      <template v-if="draft.windowed">
        <TimeField v-model="draft.from" label="Window from" /> to
        <TimeField v-model="draft.to" label="Window to" />
        <span class="bad">{{ faults('window', 'window.from', 'window.to') }}</span>
      </template>
    </div>
  </div>
</template>

<style scoped>
.top {
  align-items: flex-start;
  gap: 12px 20px;
  flex-wrap: wrap;
}
</style>
