<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useEdit } from '@/shared/useEdit'
import FormSheet from '@/shared/FormSheet.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { bodyOf, type Draft, draftOf, empty, MONTH_DAYS, MONTHS, WEEKDAYS } from './triggerForm'
import DayField from '@/shared/DayField.vue'
import TimeField from '@/shared/TimeField.vue'
import WholeField from '@/shared/WholeField.vue'

/** When a routine starts, chosen or pasted; the sentence and the next times follow while typing. */
const props = defineProps<{ routine: number; trigger?: Schemas['Trigger'] }>()
const emit = defineEmits<{ leave: [] }>()
const { zone } = useMe()
const edit = useEdit<Draft>(
  () => (props.trigger ? draftOf(props.trigger) : empty(zone.value)),
  (now, version) => {
    const body = bodyOf(now)
    const path = { number: props.routine }
    if (!props.trigger) return ask(api.POST('/api/v1/routines/{number}/triggers', { params: { path }, body }))
    const params = { path: { ...path, trigger: props.trigger.id }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/routines/{number}/triggers/{trigger}', { params, body }))
  },
  {
    what: 'The start',
    place: () => `trigger-${props.routine}-${props.trigger?.id ?? 0}`,
    version: () => props.trigger?.version,
    after: () => emit('leave'),
  },
)
const { fields: draft } = edit
const given = refDebounced(
  computed(() => bodyOf(draft.value)),
  250,
)
const preview = useQuery({
  queryKey: ['routines', 'preview', given],
  retry: false,
  // What was read last stays until it is read anew, so that nothing below it jumps.
  placeholderData: keepPreviousData,
  queryFn: () => ask(api.POST('/api/v1/clock/preview', { body: given.value })),
})
const kinds = [
  { value: 'week', words: 'by weekday' },
  { value: 'month', words: 'by day of the month' },
  { value: 'year', words: 'once a year' },
  { value: 'interval', words: 'every so often' },
  { value: 'once', words: 'once' },
  { value: 'code', words: 'by a code' },
]
const examples = [
  { code: '*/15 8-17 * * *', words: 'every 15 minutes of the working hours' },
  { code: '0 18 LW * *', words: 'last working day, 18:00' },
  { code: '0 30 6 ? * 2-6', words: 'pasted, seconds first' },
]
const CODE = ['expr', 'second', 'minute', 'hour', 'day of month', 'month', 'day of week', 'year']
const faults = (...names: string[]) =>
  names.map((name) => faultOf(preview.error.value, name)).find((found) => found !== undefined)
const KNOWN = [
  ...CODE,
  'zone',
  'window',
  'window.from',
  'window.to',
  'once',
  'anchor',
  'every_minutes',
  'weeks',
  'weeks_from',
]
const kept = computed(() => {
  const form = preview.data.value?.kept as { expr?: string; years?: string } | undefined
  return draft.value.kind === 'code' && form?.expr && form.expr !== draft.value.code.trim()
    ? `${form.expr}${form.years ? ` in the years ${form.years}` : ''}`
    : ''
})
</script>

<template>
  <FormSheet
    :edit="edit"
    :title="trigger ? 'Change this start' : 'Add a start on the clock'"
    :action="trigger ? 'Keep the change' : 'Start it so'"
    leave="Leave it"
    :fields="KNOWN"
    :wait="
      preview.error.value
        ? 'Mend the fields marked above.'
        : preview.data.value
          ? ''
          : 'Its next times are being worked out.'
    "
    @leave="emit('leave')"
  >
    <div class="row" role="radiogroup" aria-label="How the times are given">
      <el-radio
        v-for="kind in kinds"
        :key="kind.value"
        v-model="draft.kind"
        name="kind"
        :value="kind.value"
        >{{ kind.words }}</el-radio
      >
    </div>
    <div class="row top">
      <template v-if="draft.kind === 'week'">
        <fieldset>
          <legend class="quiet">On</legend>
          <el-checkbox-group v-model="draft.weekdays">
            <el-checkbox v-for="day in WEEKDAYS" :key="day" class="day" :value="day">{{
              day.charAt(0) + day.slice(1).toLowerCase()
            }}</el-checkbox>
          </el-checkbox-group>
        </fieldset>
      </template>
      <Field v-if="draft.kind === 'month'" v-slot="{ id }" label="On">
        <el-select :id="id" v-model="draft.monthDay"
          ><el-option v-for="day in MONTH_DAYS" :key="day.value" :value="day.value" :label="day.words"
        /></el-select>
      </Field>
      <Field v-if="draft.kind === 'year'" v-slot="{ id }" label="Day" :fault="faults('day of month')">
        <WholeField :id="id" v-model="draft.yearDay" :min="1" :max="31" />
      </Field>
      <Field v-if="draft.kind === 'year'" v-slot="{ id }" label="Month">
        <el-select :id="id" v-model="draft.yearMonth"
          ><el-option
            v-for="month in MONTHS"
            :key="month"
            :value="month"
            :label="month.charAt(0) + month.slice(1).toLowerCase()"
        /></el-select>
      </Field>
      <Field
        v-if="['week', 'month', 'year'].includes(draft.kind)"
        v-slot="{ id }"
        label="At"
        :fault="faults('minute', 'hour')"
      >
        <TimeField :id="id" v-model="draft.time" />
      </Field>
      <template v-if="draft.kind === 'interval'">
        <Field v-slot="{ id }" label="Every" :fault="faults('every_minutes')">
          <WholeField :id="id" v-model="draft.every" :min="1" />
        </Field>
        <Field v-slot="{ id }" label="Unit">
          <el-select :id="id" v-model="draft.unit"
            ><el-option value="minutes" label="minutes" /> <el-option value="hours" label="hours"
          /></el-select>
        </Field>
        <Field v-slot="{ id }" label="Counted from, UTC" :fault="faults('anchor')">
          <DayField :id="id" v-model="draft.anchor" timed />
        </Field>
      </template>
      <Field v-if="draft.kind === 'once'" v-slot="{ id }" label="At" :fault="faults('once')">
        <DayField :id="id" v-model="draft.once" timed />
      </Field>
      <template v-if="draft.kind === 'code'">
        <Field
          v-slot="{ id, invalid }"
          label="Minute, hour, day of month, month, day of week"
          help="Six or seven fields are read with the seconds first."
          :fault="faults(...CODE)"
        >
          <el-input :id="id" v-model="draft.code" style="--chars: 26" :aria-invalid="invalid" />
        </Field>
        <Field v-slot="{ id }" label="Only in the years" help="empty: every year">
          <el-input :id="id" v-model="draft.years" style="--chars: 12" placeholder="2026-2028" />
        </Field>
      </template>
      <Field
        v-if="['week', 'code'].includes(draft.kind)"
        v-slot="{ id }"
        label="Every … weeks"
        :fault="faults('weeks', 'weeks_from')"
      >
        <WholeField :id="id" v-model="draft.weeks" :min="1" :max="52" />
      </Field>
      <Field
        v-if="['week', 'code'].includes(draft.kind) && draft.weeks > 1"
        v-slot="{ id }"
        label="From the week of"
      >
        <DayField :id="id" v-model="draft.weeksFrom" />
      </Field>
    </div>
    <p v-if="draft.kind === 'code'" class="quiet">
      For example
      <template v-for="(one, n) in examples" :key="one.code"
        ><template v-if="n">, </template
        ><el-button link type="primary" @click="draft.code = one.code">{{ one.code }}</el-button>
        {{ one.words }}</template
      >
    </p>
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
    <div v-if="preview.data.value && !preview.error.value" class="read" role="status">
      <b>{{ preview.data.value.sentence }}</b>
      <div>
        Next five:
        <template v-for="(at, n) in preview.data.value.times" :key="at"
          ><template v-if="n">; </template><When :at="at"
        /></template>
      </div>
      <div v-for="said in preview.data.value.notes" :key="said" class="quiet">{{ said }}</div>
      <div v-if="kept" class="quiet">
        Kept as <code>{{ kept }}</code>
      </div>
    </div>
    <Problem v-else-if="preview.error.value" :error="preview.error.value" :fields="KNOWN" />
  </FormSheet>
</template>

<style scoped>
.top {
  align-items: flex-start;
  gap: 12px 20px;
  flex-wrap: wrap;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.day {
  display: inline-block;
  margin-right: 10px;
  line-height: 30px;
}
.read {
  border-top: 1px solid var(--hair-2);
  padding-top: 8px;
}
form .plain {
  padding: 0;
}
</style>
