<script setup lang="ts">
import DayField from '@/shared/DayField.vue'
import Field from '@/shared/Field.vue'
import TimeField from '@/shared/TimeField.vue'
import WholeField from '@/shared/WholeField.vue'
import { CODE, type Draft, MONTH_DAYS, MONTHS, WEEKDAYS } from './triggerForm'
import Choice from '@/shared/Choice.vue'

/** At which times a routine starts: by weekday, day, rhythm, once, or by a code. */
defineProps<{ faults: (...names: string[]) => string | undefined }>()
const draft = defineModel<Draft>({ required: true })
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
</script>

<template>
  <div class="stack tight">
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
        <Choice :id="id" v-model="draft.monthDay" :options="MONTH_DAYS" />
      </Field>
      <Field v-if="draft.kind === 'year'" v-slot="{ id }" label="Day" :fault="faults('day of month')">
        <WholeField :id="id" v-model="draft.yearDay" :min="1" :max="31" />
      </Field>
      <Field v-if="draft.kind === 'year'" v-slot="{ id }" label="Month">
        <Choice
          :id="id"
          v-model="draft.yearMonth"
          :options="MONTHS.map((one) => ({ value: one, words: one.charAt(0) + one.slice(1).toLowerCase() }))"
        />
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
          <Choice :id="id" v-model="draft.unit" :options="['minutes', 'hours']" />
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
  </div>
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
