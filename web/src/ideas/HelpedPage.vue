<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import DayField from '@/shared/DayField.vue'
import Field from '@/shared/Field.vue'
import Figure from '@/shared/Figure.vue'
import { monthText, number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import Sheets from '@/shared/Sheets.vue'

/** Who helped most over some months, by what came of it: people, groups or divisions, each with its working. */
const route = useRoute()
const router = useRouter()
const asked = (name: string) => {
  const value = route.query[name]
  return typeof value === 'string' ? value : undefined
}
const by = computed(() => asked('by') ?? 'person')
const query = useQuery({
  queryKey: ['thanks', 'ranking', () => asked('from'), () => asked('to'), by],
  queryFn: () =>
    ask(
      api.GET('/api/v1/thanks/ranking', {
        params: { query: { first: asked('from'), last: asked('to'), by: by.value } },
      }),
    ),
})
const page = computed(() => query.data.value)
const span = (): Record<string, string> => ({
  from: asked('from') ?? page.value?.first ?? '',
  to: asked('to') ?? page.value?.last ?? '',
})
const BY = [
  { key: 'person', words: 'People' },
  { key: 'group', words: 'Groups' },
  { key: 'division', words: 'Divisions' },
]
const sheets = computed(() =>
  BY.map((one) => ({ ...one, query: { ...(asked('from') ? span() : {}), by: one.key } })),
)
const within = (name: 'from' | 'to', month: string | null) =>
  month && router.replace({ query: { ...span(), by: by.value, [name]: month } })
const hide = useAction(
  (hidden: boolean) => ask(api.PUT('/api/v1/profile/thanks', { body: { hidden } })),
  [['thanks']],
)
const many = computed(() => by.value !== 'person')
</script>

<template>
  <div class="stack">
    <div>
      <p class="quiet"><router-link to="/ideas/thanks">Thanks</router-link></p>
      <h1>Who helped most</h1>
      <p class="lead">By what came of it, not by how much was handed in. Each place shows its working.</p>
    </div>
    <div class="row top">
      <Field v-slot="{ id }" label="From">
        <DayField
          :id="id"
          :model-value="page?.first ?? ''"
          month
          @update:model-value="(now) => within('from', now)"
        />
      </Field>
      <Field v-slot="{ id }" label="To">
        <DayField
          :id="id"
          :model-value="page?.last ?? ''"
          month
          @update:model-value="(now) => within('to', now)"
        />
      </Field>
    </div>
    <Sheets label="Ranked by" :sheets="sheets" :now="by" />
    <Problem v-if="query.error.value" :error="query.error.value" />
    <Loaded v-else :pending="query.isPending.value" :error="null" :empty="!page?.rows.length">
      <template #empty>
        Nothing came of anybody's help in these months yet: no idea was screened, put in service or tallied.
      </template>
      <table v-if="page" class="ledger">
        <thead>
          <tr>
            <th class="num" style="width: 60px">Place</th>
            <th>{{ BY.find((one) => one.key === by)?.words }}</th>
            <th v-if="many" class="num">People</th>
            <th class="num">Points</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in page.rows" :key="n">
            <td class="num">{{ row.place }}</td>
            <td>
              <b>{{ row.name }}</b> <span v-if="!many" class="quiet">{{ row.division }}</span>
              <span v-if="row.me" class="quiet"> {{ many ? 'you are among them' : 'you' }}</span>
            </td>
            <td v-if="many" class="num">{{ row.people }}</td>
            <td class="num">
              <Figure :name="`helped-${n}`" :working="row.working" :text="number(row.points, 2, 2)" />
            </td>
          </tr>
        </tbody>
      </table>
    </Loaded>
    <p v-if="page?.left_out" class="quiet">
      {{ several(page.left_out, 'person who helped does', 'people who helped do') }} not want to be shown;
      they are in no place and in no sum.
    </p>
    <Problem :error="hide.error.value" />
    <MarginNotes holds>
      <section v-if="page" class="stack tight">
        <h2>Your own</h2>
        <p v-if="page.mine && Number(page.mine.points)">
          <Figure name="helped-mine" :working="page.mine.working" :text="number(page.mine.points, 2, 2)" />
          points, {{ monthText(page.first) }} to {{ monthText(page.last) }}.
        </p>
        <p v-else class="quiet">None in these months.</p>
        <el-checkbox :model-value="page.hidden" :disabled="hide.busy.value" @change="hide.go(!page.hidden)"
          >Do not show me here and among thanks</el-checkbox
        >
      </section>
      <section v-if="page" class="stack tight">
        <h2>What counts</h2>
        <p v-for="one in page.weights" :key="one.kind" class="quiet">
          <b>{{ number(one.weight) }}</b> for {{ one.words }}
        </p>
        <p v-if="page.may_change">
          <router-link to="/house/ideas?sheet=helped">Change what counts</router-link>
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
