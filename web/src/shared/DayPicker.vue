<script setup lang="ts">
import dayjs from 'dayjs'
import updateLocale from 'dayjs/plugin/updateLocale'
import { computed } from 'vue'
import { dayPattern, weekStart, type DayOf } from './days'

/** A day, written as its reader writes days; kept as 2026-10-02, empty when there is none. */
const props = defineProps<DayOf>()
const day = defineModel<string | null>({ required: true })
const kind = computed(() => (props.timed ? 'datetime' : props.month ? 'month' : 'date'))
const kept = computed(() => (props.timed ? 'YYYY-MM-DD[T]HH:mm' : props.month ? 'YYYY-MM' : 'YYYY-MM-DD'))
const shown = computed(() => dayPattern(kind.value))
// The picker's months follow the reader's week; it takes that from its library of days alone.
dayjs.extend(updateLocale)
dayjs.updateLocale('en', { weekStart: weekStart() })
const dayOf = (at: Date): string =>
  [at.getFullYear(), String(at.getMonth() + 1).padStart(2, '0'), String(at.getDate()).padStart(2, '0')].join(
    '-',
  )
const outside = (at: Date): boolean =>
  (!!props.min && dayOf(at) < props.min) || (!!props.max && dayOf(at) > props.max)
</script>

<template>
  <el-date-picker
    :id="id"
    :model-value="day || ''"
    :type="kind"
    :format="shown"
    :value-format="kept"
    :placeholder="shown"
    :disabled="disabled"
    :disabled-date="outside"
    :aria-label="label"
    :aria-invalid="invalid"
    class="day-field"
    @update:model-value="(now: string | null) => (day = now ?? '')"
  />
</template>
