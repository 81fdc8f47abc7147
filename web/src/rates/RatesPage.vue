<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { inUnit } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import UnusualCounts from '@/tally/UnusualCounts.vue'
import DayField from '@/shared/DayField.vue'
import Suggest from '@/shared/Suggest.vue'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Dated rates: what is in force, what was before, what waits for approval. */
type Rate = Schemas['RateRow']
const { may, currency } = useMe()
const query = useQuery({ queryKey: ['rates'], queryFn: () => ask(api.GET('/api/v1/rates')) })
const rates = computed(() => query.data.value ?? [])
const waiting = computed(() => rates.value.filter((rate) => rate.state === 'proposed'))
const others = computed(() => rates.value.filter((rate) => rate.state !== 'proposed'))
const known = useQuery({ queryKey: ['rates', 'kinds'], queryFn: () => ask(api.GET('/api/v1/rates/kinds')) })
const kinds = computed(() => known.data.value ?? [])
const unit = computed(() => {
  const found = kinds.value.find((one) => one.kind === form.value.kind)?.unit ?? ''
  if (found.startsWith('share')) return `as a share, 0.1 is 10 %${found.slice('share'.length)}`
  return `in ${found.replace('money', currency.value)}`
})
const lacking = computed(() =>
  kinds.value.filter(
    (kind) => kind.needed && !rates.value.some((rate) => rate.kind === kind.kind && rate.state !== 'refused'),
  ),
)
const today = new Date().toISOString().slice(0, 10)
const current = computed(() => {
  const seen = new Set<string>()
  return new Set(
    others.value
      .filter((rate) => {
        const key = `${rate.kind}-${rate.idea_id}-${rate.what}-${rate.division_id}`
        if (rate.state !== 'approved' || rate.since > today || seen.has(key)) return false
        seen.add(key)
        return true
      })
      .map((rate) => rate.id),
  )
})
const older = ref(false)
/** By what they are about; rows that were before are shown when asked for. */
const groups = computed(() => {
  const shown = others.value.filter((rate) => older.value || current.value.has(rate.id) || rate.since > today)
  const order = [...new Set(['People', 'Robots', 'Building', ...shown.map((rate) => rate.group)])]
  return order
    .map((name) => ({ name, rows: shown.filter((rate) => rate.group === name) }))
    .filter((group) => group.rows.length)
})
const form = ref({ kind: 'hour_cost', what: '', division_id: 0, value: '', since: today, source: '' })
const kind = computed(() => kinds.value.find((one) => one.kind === form.value.kind))
watch(
  () => form.value.kind,
  () => {
    form.value.what = ''
    form.value.division_id = 0
  },
)
const divisions = useQuery({
  queryKey: ['people', 'divisions'],
  queryFn: () => ask(api.GET('/api/v1/divisions')),
})
const named = computed(() => [
  ...new Set(
    rates.value.filter((rate) => rate.kind === form.value.kind && rate.what).map((rate) => rate.what),
  ),
])
const propose = useAction(async () => {
  await ask(api.POST('/api/v1/rates', { body: { ...form.value, idea_id: 0 } }))
  form.value = { ...form.value, value: '', source: '' }
  unsent.done()
})
const settle = useAction((id: number, approved: boolean) =>
  ask(api.POST('/api/v1/rates/{number}/settle', { params: { path: { number: id } }, body: { approved } })),
)
const shown = (rate: Rate): string => inUnit(rate.value, rate.unit, currency.value)
const about = (rate: Rate): string =>
  rate.idea_id
    ? `${rate.name}, I-${rate.idea_id} ${rate.idea ?? ''}`
    : [rate.name, rate.what, rate.division ? `in ${rate.division}` : ''].filter(Boolean).join(', ')
const unsent = useDraft('The rate', () => 'rate', { form })
</script>

<template>
  <div class="stack">
    <div>
      <p class="quiet"><router-link to="/value">Value</router-link></p>
      <h1>Rates and cost tables</h1>
      <p class="lead">
        Each run is reckoned at the rates in force on the day it ended, each case at those of its day. A row
        for a role goes before one for all, a near division before one above it. Who proposes a row does not
        approve it.
      </p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <section v-if="waiting.length">
        <h2>Waiting for approval</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="rate in waiting" :key="rate.id">
              <td>
                {{ about(rate) }}
                <div class="quiet">{{ rate.source }}; proposed by {{ rate.proposer }}</div>
              </td>
              <td class="num">{{ shown(rate) }}</td>
              <td class="num">from <When :at="rate.since" /></td>
              <td class="num">
                <span v-if="rate.may_approve" class="row">
                  <el-button type="primary" @click="settle.go(rate.id, true)">Approve</el-button>
                  <el-button @click="settle.go(rate.id, false)">Refuse</el-button>
                </span>
                <span v-else class="quiet">somebody else who may approve rates decides</span>
              </td>
            </tr>
          </tbody>
        </table>
        <Problem :error="settle.error.value" />
      </section>
      <section>
        <div class="spread">
          <h2>Cost tables</h2>
          <el-checkbox v-model="older">with rows that were before</el-checkbox>
        </div>
        <p v-if="lacking.length" class="note">
          Cases cannot be reckoned whole without a rate for: {{ lacking.map((one) => one.name).join('; ') }}.
        </p>
        <table v-if="others.length" class="ledger">
          <thead>
            <tr>
              <th>Rate</th>
              <th class="num">Value</th>
              <th class="num">From</th>
              <th>State</th>
              <th>Approved by</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="group in groups" :key="group.name">
              <tr>
                <th colspan="5" scope="rowgroup">{{ group.name }}</th>
              </tr>
              <tr v-for="rate in group.rows" :key="rate.id">
                <td>
                  {{ about(rate) }}
                  <div class="quiet">{{ rate.source }}</div>
                </td>
                <td class="num">{{ shown(rate) }}</td>
                <td class="num"><When :at="rate.since" /></td>
                <td>
                  {{
                    current.has(rate.id)
                      ? 'in force'
                      : rate.state === 'refused'
                        ? 'refused'
                        : rate.since > today
                          ? 'to come'
                          : 'was before'
                  }}
                </td>
                <td>{{ rate.approver ?? '–' }}</td>
              </tr>
            </template>
          </tbody>
        </table>
      </section>
      <form v-if="may('rate.make')" class="stack tight" @submit.prevent="propose.go()">
        <DraftNote :draft="unsent" />
        <h2>Propose a new rate</h2>
        <div class="row top">
          <Field v-slot="{ id }" label="Rate">
            <el-select :id="id" v-model="form.kind"
              ><el-option v-for="one in kinds" :key="one.kind" :value="one.kind" :label="one.name"
            /></el-select>
          </Field>
          <Field
            v-if="kind?.by"
            v-slot="{ id }"
            :label="kind.by.charAt(0).toUpperCase() + kind.by.slice(1)"
            :help="kind.needs_by ? 'which one' : 'empty: for all'"
            :fault="faultOf(propose.error.value, 'what')"
          >
            <Suggest :id="id" v-model="form.what" :chars="16" :maxlength="60" :known="named" />
          </Field>
          <Field v-if="kind?.divided" v-slot="{ id }" label="Division">
            <el-select :id="id" v-model="form.division_id"
              ><el-option :value="0" label="all" />
              <el-option
                v-for="one in divisions.data.value ?? []"
                :key="one.id"
                :value="one.id"
                :label="one.name"
            /></el-select>
          </Field>
          <Field v-slot="{ id }" label="Value" :help="unit" :fault="faultOf(propose.error.value, 'value')"
            ><NumberField :id="id" v-model="form.value" :chars="9"
          /></Field>
          <Field v-slot="{ id }" label="In force from"><DayField :id="id" v-model="form.since" /></Field>
          <Field v-slot="{ id }" label="Where it comes from" :fault="faultOf(propose.error.value, 'source')"
            ><el-input :id="id" v-model="form.source" style="--chars: 28"
          /></Field>
        </div>
        <Problem :error="propose.error.value" :fields="['value', 'source', 'what']" />
        <p><el-button :disabled="propose.busy.value" native-type="submit">Propose it</el-button></p>
      </form>
      <UnusualCounts v-if="may('value.see')" />
    </Loaded>
  </div>
</template>

<style scoped>
th[scope='rowgroup'] {
  padding-top: 14px;
  font: 600 14px var(--title-face);
  color: var(--ink);
}
.top {
  align-items: flex-start;
}
</style>
