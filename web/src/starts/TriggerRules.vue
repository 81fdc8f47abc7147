<script setup lang="ts">
import Field from '@/shared/Field.vue'
import TimeField from '@/shared/TimeField.vue'
import WholeField from '@/shared/WholeField.vue'
import type { Draft } from './triggerForm'

/** What bounds the times of a start: zone, closed days, what was missed, its window. */
defineProps<{ faults: (...names: string[]) => string | undefined }>()
const draft = defineModel<Draft>({ required: true })
</script>

<template>
  <div class="stack tight">
    <div class="row top">
      <Field v-slot="{ id }" label="Zone" :fault="faults('zone')">
        <el-input :id="id" v-model="draft.zone" style="--chars: 18" />
      </Field>
      <Field v-slot="{ id }" label="On closed days">
        <el-select :id="id" v-model="draft.onClosed"
          ><el-option value="run" label="start all the same" />
          <el-option value="skip" label="do not start" />
          <el-option value="next" label="start on the next open day" />
          <el-option value="previous" label="start on the open day before"
        /></el-select>
      </Field>
      <Field v-slot="{ id }" label="Missed while the engine was away">
        <el-select :id="id" v-model="draft.missed"
          ><el-option value="once" label="make up for all by one start" />
          <el-option value="all" label="make up for each" />
          <el-option value="skip" label="leave out"
        /></el-select>
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
