<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import MailServer from './MailServer.vue'

/** What was sent to whom, when, and what the mail server answered. */
const route = useRoute()
const router = useRouter()
const text = computed({
  get: () => String(route.query.text ?? ''),
  set: (now: string) => void router.replace({ query: { ...route.query, text: now || undefined } }),
})
const waiting = computed({
  get: () => route.query.waiting === '1',
  set: (now: boolean) => void router.replace({ query: { ...route.query, waiting: now ? '1' : undefined } }),
})
const slow = useDebounce(text, 300)
const query = useInfiniteQuery({
  queryKey: ['notifications', 'mails', slow, waiting],
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/mails', {
        params: { query: { text: slow.value || null, waiting: waiting.value, after: pageParam } },
      }),
    ),
  initialPageParam: null as string | null,
  getNextPageParam: (page) => page.next,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
</script>

<template>
  <div class="stack">
    <div>
      <h1>House rules</h1>
      <p class="lead">Mails: what was sent to whom, when, with what answer.</p>
    </div>
    <HouseTabs />
    <MailServer />
    <div class="row">
      <el-input v-model="text" placeholder="Address or subject" aria-label="Find mails" style="--chars: 28" />
      <el-checkbox v-model="waiting">not sent yet</el-checkbox>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>{{
        text || waiting
          ? 'Nothing fits. Take the filter away.'
          : 'No mail yet. They leave when somebody is told something, or is invited.'
      }}</template>
      <table class="ledger">
        <thead>
          <tr>
            <th>To</th>
            <th>Subject</th>
            <th class="num">Written</th>
            <th class="num">Sent</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <td>
              {{ row.person ?? row.to_address }}
              <div v-if="row.person" class="quiet">{{ row.to_address }}</div>
            </td>
            <td>
              {{ row.subject }}
              <div v-if="!row.sent_at && row.answer" class="quiet bad">{{ row.answer }}</div>
              <div v-else-if="row.answer" class="quiet">answered: {{ row.answer }}</div>
            </td>
            <td class="num"><When :at="row.made_at" /></td>
            <td class="num">
              <When v-if="row.sent_at" :at="row.sent_at" />
              <template v-else>
                <Glyph state="waiting" :word="row.tries ? `after ${row.tries} tries` : 'soon'" />
                <div class="quiet">next <When :at="row.due_at" clock /></div>
              </template>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="query.hasNextPage.value">
        <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()">
          Earlier ones
        </el-button>
      </p>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>What is not shown</h2>
        <p class="quiet">
          What stands in a mail is its reader's alone. Links in mails act only when their page is sent, and
          are kept nowhere. A mail that does not leave is tried again with growing pauses;
          <router-link to="/health">Health</router-link> says when one is stuck.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
