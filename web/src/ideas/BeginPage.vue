<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'
import { number } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'

/** Typical work to begin with, narrowed by its kind and by what it touches. */
const route = useRoute()
const router = useRouter()
const one = (name: string): string | undefined =>
  typeof route.query[name] === 'string' ? (route.query[name] as string) : undefined
const kind = computed(() => one('kind'))
const touches = computed(() => one('touches'))
const query = useQuery({
  queryKey: ['candidates', kind, touches],
  queryFn: () =>
    ask(api.GET('/api/v1/candidates', { params: { query: { kind: kind.value, touches: touches.value } } })),
  staleTime: Infinity,
  placeholderData: (before) => before,
})
function choose(change: Record<string, string | undefined>) {
  void router.replace({ query: { ...route.query, ...change } })
}
const begin = useAction(async (key: string) => {
  const made = await ask(
    api.POST('/api/v1/candidates/{key}/begin', {
      params: { path: { key }, header: { 'idempotency-key': newKey() } },
    }),
  )
  await router.push(`/ideas/new/${made.id}`)
})
</script>

<template>
  <div class="stack">
    <div>
      <p class="quiet"><router-link to="/ideas">Ideas</router-link></p>
      <h1>Where do I begin?</h1>
      <p class="lead">Work that robots take elsewhere. Does something look like yours? Begin with it.</p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="query.data.value">
        <div class="row" role="group" aria-label="Kind of work">
          <el-button class="chip" :class="{ on: !kind }" @click="choose({ kind: undefined })"
            >All work</el-button
          >
          <el-button
            v-for="row in query.data.value.kinds"
            :key="row.value"
            class="chip"
            :class="{ on: kind === row.value }"
            :aria-pressed="kind === row.value"
            @click="choose({ kind: kind === row.value ? undefined : row.value })"
          >
            {{ row.words }}
          </el-button>
        </div>
        <div class="row" role="group" aria-label="What it touches">
          <span class="quiet">with</span>
          <el-button
            v-for="row in query.data.value.touches"
            :key="row.value"
            class="chip"
            :class="{ on: touches === row.value }"
            :aria-pressed="touches === row.value"
            @click="choose({ touches: touches === row.value ? undefined : row.value })"
          >
            {{ row.words }}
          </el-button>
        </div>
        <Problem :error="begin.error.value" />
        <p v-if="!query.data.value.rows.length" class="note">
          Nothing typical fits both. Take one of them away, or
          <router-link to="/ideas/new">describe your own work.</router-link>
        </p>
        <table v-else class="ledger">
          <thead>
            <tr>
              <th>Work</th>
              <th class="num">A month</th>
              <th class="num">Minutes each</th>
              <th class="num">Hours a year</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in query.data.value.rows" :key="row.key">
              <td>
                <b>{{ row.title }}</b>
                <div class="quiet">{{ row.what }}</div>
                <div class="quiet">{{ row.kind }}; {{ row.touches.join(', ') }}</div>
              </td>
              <td class="num">{{ row.a_month.map((n) => number(n)).join('–') }}</td>
              <td class="num">{{ row.minutes.map((n) => number(n)).join('–') }}</td>
              <td class="num">{{ number(row.hours_low) }}–{{ number(row.hours_high) }}</td>
              <td class="num">
                <el-button :disabled="begin.busy.value" @click="begin.go(row.key)">Begin with it</el-button>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>Where the ranges come from</h2>
        <p class="quiet">
          They are our own, of what such work mostly amounts to in a company of some hundreds to a few
          thousand people. Hours a year: 12 months × items × minutes ÷ 60, both low ends and both high ends.
          Nothing is reckoned from them later: your idea counts by your answers.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
