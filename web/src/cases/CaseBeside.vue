<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import { dayText, money, number, several } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import Fold from '@/shared/Fold.vue'

/** Promised, now expected and delivered side by side; a promise is made anew with a reason. */
const props = defineProps<{ idea: Schemas['IdeaWhole']; data: Schemas['CaseOut'] }>()
const { currency } = useMe()
type Row = Schemas['BesideRow']
function write(row: Row, value: string | null, said = ''): string {
  if (value === null || value === '') return said || '–'
  if (row.unit === 'money') return money(value, currency.value)
  if (row.unit === 'months') return `${number(value, 1)} months`
  return row.unit === 'date' ? dayText(value) : value
}
const moved = (row: Row): boolean => row.promised !== row.expected
const anyMoved = computed(() => (props.data.beside ?? []).some(moved))
const asking = ref(false)
const reason = ref('')
const anew = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/promise', {
      params: { path: { number: props.idea.id } },
      body: {
        reason: reason.value,
        seen: props.data.promise?.number ?? 0,
        worth: props.data.figures.npv_3y,
      },
    }),
  )
  unsent.done()
  asking.value = false
  reason.value = ''
})
const unsent = useDraft('Your reason', () => `case-anew-${props.idea.id}`, { reason }, { open: asking })
</script>

<template>
  <section v-if="data.promise && data.beside" class="stack tight">
    <div class="spread">
      <h2>Promised, now expected, delivered</h2>
      <el-button v-if="idea.may.promise && !asking" :disabled="!anyMoved" @click="asking = true">
        Promise anew
      </el-button>
    </div>
    <p class="quiet">
      Promise {{ data.promise.number }}, by {{ data.promise.by }} on
      <When :at="data.promise.at" day /><template v-if="data.promise.reason"
        >: “{{ data.promise.reason }}”</template
      >. Expected is what today's facts and cost tables make of it; a mark stands where it differs.
      <template v-if="idea.may.promise && !anyMoved">
        Nothing differs, so there is nothing to promise anew.</template
      >
    </p>
    <table class="ledger">
      <thead>
        <tr>
          <th></th>
          <th class="num">Promised</th>
          <th class="num">Now expected</th>
          <th class="num">Delivered</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in data.beside" :key="row.name">
          <td>{{ row.label }}</td>
          <td class="num">{{ write(row, row.promised, row.promised_said) }}</td>
          <td class="num">
            <span v-if="moved(row)" title="differs from the promise">≠ </span
            ><component :is="moved(row) ? 'b' : 'span'">{{
              write(row, row.expected, row.expected_said)
            }}</component>
          </td>
          <td class="num">
            <template v-if="row.delivered">{{ write(row, row.delivered) }}</template>
            <template v-else-if="!row.note">–</template>
            <span class="quiet"> {{ row.note }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="asking" class="note stack tight" @submit.prevent="anew.go()">
      <DraftNote :draft="unsent" />
      <p>
        What is now expected becomes the promise, {{ money(data.figures.saving_per_year, currency) }} a year
        from <When :at="data.go_live" />; the one before stays here to be read. The tally is set against the
        new one.
      </p>
      <div class="row">
        <el-input
          v-model="reason"
          style="--chars: 50"
          maxlength="1000"
          aria-label="Why is it promised anew?"
          placeholder="Why is it promised anew?"
        />
        <el-button :disabled="anew.busy.value" type="primary" native-type="submit">Promise this</el-button>
        <el-button @click="asking = false">Cancel</el-button>
      </div>
      <p v-if="faultOf(anew.error.value, 'reason')" class="bad" role="alert">
        {{ faultOf(anew.error.value, 'reason') }}
      </p>
      <Problem :error="anew.error.value" :fields="['reason']" />
    </form>
    <Fold v-if="data.former.length" :words="several(data.former.length, 'promise before', 'promises before')">
      <p v-for="one in data.former" :key="one.number">
        {{ one.number }}. by {{ one.by }}, <When :at="one.at" day />:
        {{ money(one.figures.saving_per_year, currency) }} a year, worth
        {{ money(one.figures.npv_3y, currency) }} over three years, live on <When :at="one.go_live_on" />.
        <template v-if="one.reason">“{{ one.reason }}”</template>
      </p>
    </Fold>
  </section>
</template>
