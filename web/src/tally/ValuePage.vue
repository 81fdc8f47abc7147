<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import Chart from '@/shared/Chart.vue'
import Figure from '@/shared/Figure.vue'
import { money, monthText, number, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import type { Picture } from '@/shared/picture'
import When from '@/shared/When.vue'
import AttendedLine from './AttendedLine.vue'
import CompanyMonths from './CompanyMonths.vue'

/** Promised against delivered: the ideas furthest below their promise first. */
const { currency, may } = useMe()
const query = useQuery({ queryKey: ['tally', 'overview'], queryFn: () => ask(api.GET('/api/v1/value')) })
const data = computed(() => query.data.value)
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
const cash = (value: string | undefined): string => money(value, currency.value)
const picture = computed<Picture>(() => ({
  title: 'Delivered and promised by month, all ideas',
  kind: 'bars',
  unit: symbol.value,
  columns: ['Month', 'Delivered', 'Promised'],
  rows: (data.value?.months ?? []).map((row) => [
    monthText(row.month),
    Number(row.saved),
    Number(row.promised),
  ]),
}))
const worst = computed(() => data.value?.rows.find((row) => Number(row.difference) < 0 && row.live_on))
const nothing = computed(() => data.value?.rows.every((row) => !row.live_on))
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Value</h1>
        <p v-if="worst" class="lead">
          Furthest below its promise:
          <router-link :to="`/ideas/${worst.idea_id}?sheet=tally`"
            >I-{{ worst.idea_id }} {{ worst.title }}</router-link
          >, by {{ cash(worst.difference.replace('-', '')) }}.
        </p>
        <p v-else-if="!data" class="lead">Promised against delivered.</p>
        <p v-else-if="nothing" class="lead">No idea that you see is in service yet.</p>
        <p v-else class="lead">Every idea in service that you see delivers what it promised.</p>
      </div>
      <div class="row">
        <router-link v-if="may('rate.see')" to="/value/rates" class="button">Rates</router-link>
      </div>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!data?.rows.length">
      <template #empty
        >No idea has been backed yet, so nothing is promised.
        <router-link to="/portfolio">Choose one in the Portfolio.</router-link></template
      >
      <template v-if="data">
        <div class="row figures">
          <Figure
            name="t-saved"
            label="Delivered to date"
            large
            :working="data.working.saved"
            :text="cash(data.total.saved)"
            >{{ several(Math.round(Number(data.total.hours)), 'hour', 'hours') }} returned</Figure
          >
          <Figure
            name="t-promised"
            label="Promised to date"
            large
            :working="data.working.promised"
            :text="cash(data.total.promised)"
          />
          <Figure
            name="t-diff"
            label="Difference"
            large
            :working="data.working.difference"
            :text="cash(data.total.difference)"
          />
          <Figure
            name="t-costs"
            :working="data.working.costs"
            label="Costs of ideas"
            large
            :text="cash(data.total.costs)"
          />
          <Figure
            name="t-net"
            :working="data.working.net"
            :label="data.rest ? 'Delivered less all costs' : 'Delivered less costs'"
            large
            :text="cash(data.total.net)"
            ><template v-if="data.rest">{{ cash(data.rest.money) }} of it borne by no idea</template></Figure
          >
        </div>
        <AttendedLine v-if="data.attended" :attended="data.attended" />
        <table class="ledger">
          <thead>
            <tr>
              <th>Idea</th>
              <th class="num">Promised to date, {{ symbol }}</th>
              <th class="num">Delivered, {{ symbol }}</th>
              <th class="num">Difference, {{ symbol }}</th>
              <th class="num">Costs, {{ symbol }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in data.rows" :key="row.idea_id">
              <td>
                <router-link
                  class="whole"
                  :to="`/ideas/${row.idea_id}?sheet=${row.live_on ? 'tally' : 'case'}`"
                  >I-{{ row.idea_id }} {{ row.title }}</router-link
                >
                <div class="quiet">
                  <template v-if="row.live_on"
                    >in service since <When :at="row.live_on" />, {{ number(row.hours) }} h returned</template
                  >
                  <template v-else
                    ><Glyph :state="row.stage" />, promised to go live <When :at="row.go_live_on"
                  /></template>
                </div>
              </td>
              <td class="num">{{ number(row.promised, 2, 2) }}</td>
              <td class="num">{{ number(row.saved, 2, 2) }}</td>
              <td class="num" :class="{ bad: Number(row.difference) < 0 }">
                <Figure
                  :name="`idea-${row.idea_id}`"
                  :working="row.working"
                  :text="number(row.difference, 2, 2)"
                />
              </td>
              <td class="num">{{ number(row.costs, 2, 2) }}</td>
            </tr>
            <tr v-if="data.rounding">
              <td class="quiet">Left by rounding, as each row is rounded by itself</td>
              <td class="num quiet">{{ number(data.rounding.promised, 2, 2) }}</td>
              <td class="num quiet">{{ number(data.rounding.saved, 2, 2) }}</td>
              <td class="num quiet">{{ number(data.rounding.difference, 2, 2) }}</td>
              <td class="num quiet">{{ number(data.rounding.costs, 2, 2) }}</td>
            </tr>
            <tr class="sum">
              <td>Together</td>
              <td class="num">{{ number(data.total.promised, 2, 2) }}</td>
              <td class="num">{{ number(data.total.saved, 2, 2) }}</td>
              <td class="num">{{ number(data.total.difference, 2, 2) }}</td>
              <td class="num">{{ number(data.total.costs, 2, 2) }}</td>
            </tr>
            <tr v-if="data.rest">
              <td class="quiet">Borne by no idea: {{ data.rest.lines }}</td>
              <td colspan="3"></td>
              <td class="num">
                <Figure name="rest" :working="data.rest.working" :text="number(data.rest.money, 2, 2)" />
              </td>
            </tr>
          </tbody>
        </table>
        <Chart :picture="picture" :height="220" />
        <p class="quiet">
          As of <When :at="data.as_of" />. Months follow the company's zone; of the running month only what is
          promised up to today counts.
        </p>
        <CompanyMonths :data="data" />
      </template>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How to read it</h2>
        <p class="quiet">
          Promised is what was frozen when an idea was backed, counted by days from its promised go-live.
          Delivered is the sum of the entries that runs posted. Choose any difference to see its working; open
          an idea to go down to the entry and its run.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.figures {
  gap: 20px 48px;
  align-items: flex-start;
}
</style>
