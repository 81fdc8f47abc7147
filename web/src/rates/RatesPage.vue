<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { inUnit, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import UnusualCounts from '@/tally/UnusualCounts.vue'
import ProposeRate from './ProposeRate.vue'

/** Dated rates: what is in force, what was before, what waits for approval. */
type Rate = Schemas['RateRow']
const { everywhere, may, currency, zone } = useMe()
const query = useQuery({ queryKey: ['rates'], queryFn: () => ask(api.GET('/api/v1/rates')) })
const rates = computed(() => query.data.value ?? [])
const known = useQuery({ queryKey: ['rates', 'kinds'], queryFn: () => ask(api.GET('/api/v1/rates/kinds')) })
const kinds = computed(() => known.data.value ?? [])
const waiting = computed(() => rates.value.filter((rate) => rate.state === 'proposed'))
const others = computed(() => rates.value.filter((rate) => rate.state !== 'proposed'))
const lacking = computed(() =>
  kinds.value.filter(
    (kind) =>
      kind.needed &&
      !rates.value.some((rate) => rate.kind === kind.kind && ['proposed', 'approved'].includes(rate.state)),
  ),
)
const today = dayIn(zone.value)
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
const settle = useAction((id: number, approved: boolean) =>
  ask(api.POST('/api/v1/rates/{number}/settle', { params: { path: { number: id } }, body: { approved } })),
)
const shown = (rate: Rate): string => inUnit(rate.value, rate.unit, currency.value)
const touched = (rate: Rate): string =>
  [
    rate.touches && `${several(rate.touches, 'run', 'runs')} ended`,
    rate.touches_counts && `${several(rate.touches_counts, 'count', 'counts')} by hand stand`,
  ]
    .filter(Boolean)
    .join(' and ')
const about = (rate: Rate): string =>
  rate.idea_id
    ? `${rate.name}, I-${rate.idea_id} ${rate.idea ?? ''}`
    : [rate.name, rate.what, rate.division ? `in ${rate.division}` : ''].filter(Boolean).join(', ')
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
        <router-link v-if="everywhere('house.change')" to="/house/ideas?sheet=rates"
          >What becomes of rates from before</router-link
        >
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
                <div v-if="rate.against" class="care">! It cannot be approved: {{ rate.against }}.</div>
                <div v-else-if="rate.touches || rate.touches_counts" class="care">
                  {{ touched(rate) }} since that day: once approved, each is posted anew at it, with
                  corrections in the open month.
                </div>
              </td>
              <td class="num">{{ shown(rate) }}</td>
              <td class="num">from <When :at="rate.since" /></td>
              <td class="num">
                <span v-if="rate.may_approve" class="row">
                  <el-button v-if="!rate.against" type="primary" @click="settle.go(rate.id, true)"
                    >Approve</el-button
                  >
                  <el-button @click="settle.go(rate.id, false)">Refuse</el-button>
                </span>
                <span v-else-if="rate.approvers.length" class="quiet"
                  >waits for {{ rate.approvers.join(' or ') }}</span
                >
                <span v-else class="care">
                  nobody else may approve rates:
                  <router-link v-if="may('role.see')" to="/house/roles"
                    >give somebody a role that may</router-link
                  ><template v-else>the lead gives somebody a role that may</template>
                </span>
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
                      : ['refused', 'withdrawn'].includes(rate.state)
                        ? rate.state
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
      <ProposeRate v-if="everywhere('rate.make')" :rates="rates" />
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
</style>
