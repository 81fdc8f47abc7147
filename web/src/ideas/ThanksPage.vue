<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { writtenAs } from '@/shared/format'
import { useAction } from '@/shared/action'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** Thanks by month and division: a notch for each thing that helped. */
const route = useRoute()
const router = useRouter()
const month = computed(() => (typeof route.query.month === 'string' ? route.query.month : undefined))
const query = useQuery({
  queryKey: ['thanks', month],
  queryFn: () => ask(api.GET('/api/v1/thanks', { params: { query: { month: month.value } } })),
})
const page = computed(() => query.data.value)
const divisions = computed(() => {
  const found = new Map<string, Schemas['ThankedOut'][]>()
  for (const one of page.value?.people ?? []) {
    const name = one.division || 'No division'
    found.set(name, [...(found.get(name) ?? []), one])
  }
  return [...found.entries()].map(([name, people]) => ({ name, people }))
})
const words = (kind: string): string => page.value?.kinds.find((one) => one.value === kind)?.words ?? kind
const hide = useAction(
  (hidden: boolean) => ask(api.PUT('/api/v1/profile/thanks', { body: { hidden } })),
  [['thanks']],
)
function other(by: number) {
  const [year, now] = (page.value?.month ?? '2026-01').split('-').map(Number)
  const at = new Date(Date.UTC(year ?? 2026, (now ?? 1) - 1 + by, 1))
  void router.replace({ query: { month: at.toISOString().slice(0, 7) } })
}
const title = computed(() => {
  const at = new Date(`${page.value?.month ?? '2026-01'}-01T00:00:00Z`)
  return new Intl.DateTimeFormat(writtenAs(), { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(at)
})
function strokes(number: number): string {
  let path = ''
  for (let n = 0; n < Math.min(number, 25); n += 1) {
    const at = 4 + Math.floor(n / 5) * 24 + (n % 5) * 4
    path += n % 5 === 4 ? `M${at - 19} 15L${at - 1} 3` : `M${at} 3v12`
  }
  return path
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="page" class="stack">
      <div>
        <p class="quiet"><router-link to="/ideas">Ideas</router-link></p>
        <h1>Thanks</h1>
        <p class="lead">A notch for each thing that helped; what became of an idea counts, not how many.</p>
        <p><router-link to="/ideas/thanks/ranking">Who helped most</router-link></p>
      </div>
      <p class="row">
        <el-button :disabled="page.month <= page.oldest" @click="other(-1)">Month before</el-button>
        <b>{{ title }}</b>
        <el-button :disabled="page.month >= page.newest" @click="other(1)">Month after</el-button>
      </p>
      <p v-if="!divisions.length" class="note">
        Nothing was thanked for in {{ title }}.
        <el-button
          v-if="page.newest !== page.month"
          link
          type="primary"
          @click="router.replace({ query: { month: page.newest } })"
        >
          The last thanks
        </el-button>
      </p>
      <section v-for="one in divisions" :key="one.name" class="stack tight">
        <h2>{{ one.name }}</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="person in one.people" :key="person.name">
              <td style="width: 190px">
                <b>{{ person.name }}</b>
              </td>
              <td>
                <div v-for="notch in person.notches" :key="notch.kind" class="notch">
                  <svg
                    :viewBox="`0 0 ${8 + Math.ceil(Math.min(notch.number, 25) / 5) * 24} 18`"
                    height="16"
                    aria-hidden="true"
                  >
                    <path :d="strokes(notch.number)" />
                  </svg>
                  <span
                    >{{ words(notch.kind)
                    }}<template v-if="notch.number > 1">, {{ notch.number }} times</template></span
                  >
                  <span v-if="notch.first" class="first">new here</span>
                </div>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <Problem :error="hide.error.value" />
      <MarginNotes holds>
        <section class="stack tight">
          <h2>Your notches</h2>
          <p v-if="!page.mine.length" class="quiet">
            None yet. They are given for:
            {{ page.kinds.map((one) => one.words).join('; ') || 'nothing now' }}.
          </p>
          <div v-for="(one, n) in page.mine.slice(0, 12)" :key="n">
            {{ words(one.kind) }}
            <div class="quiet">
              <router-link :to="`/ideas/${one.idea_id}`">I-{{ one.idea_id }} {{ one.title }}</router-link
              >, <When :at="one.at" day />
            </div>
          </div>
          <el-checkbox :model-value="page.hidden" :disabled="hide.busy.value" @change="hide.go(!page.hidden)"
            >Do not show me on this page</el-checkbox
          >
        </section>
      </MarginNotes>
    </div>
  </Loaded>
</template>

<style scoped>
.notch {
  display: flex;
  gap: 10px;
  align-items: center;
}
.notch svg {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
  flex: none;
}
.first {
  border-bottom: 2px solid var(--act);
  font-size: 12.5px;
}
</style>
