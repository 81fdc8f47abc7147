<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'
import MailServer from './MailServer.vue'

/** What was sent to whom, when, and what the mail server answered. */
const list = useList<Schemas['MailRow']>({
  key: ['notifications', 'mails'],
  filters: { text: 'words', waiting: 'yes' },
  columns: [
    { key: 'subject', name: 'Subject' },
    { key: 'made', name: 'Written', num: true },
    { key: 'sent', name: 'Sent', num: true },
  ],
  ask: (wanted, _, after) => ask(api.GET('/api/v1/mails', { params: { query: { ...wanted, after } } })),
})
const { wanted, set } = list
</script>

<template>
  <ListPage :list="list" title="Mail" first="To" words="Address or subject">
    <template #lead>What was sent to whom, when, with what answer.</template>
    <template #tabs>
      <HouseTabs />
      <MailServer />
    </template>
    <template #facets>
      <el-checkbox
        :model-value="!!wanted.waiting"
        @change="(on: unknown) => set({ waiting: on ? '1' : undefined })"
        >not sent yet</el-checkbox
      >
    </template>
    <template #empty="{ filtered }">{{
      filtered ? 'Nothing fits.' : 'No mail yet. They leave when somebody is told something, or is invited.'
    }}</template>
    <template #first="{ row }">
      {{ row.person ?? row.to_address }}
      <div v-if="row.person" class="quiet">{{ row.to_address }}</div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'subject'">
        {{ row.subject }}
        <div v-if="!row.sent_at && row.answer" class="quiet bad">{{ row.answer }}</div>
        <div v-else-if="row.answer" class="quiet">answered: {{ row.answer }}</div>
      </template>
      <When v-else-if="column.key === 'made'" :at="row.made_at" />
      <When v-else-if="row.sent_at" :at="row.sent_at" />
      <template v-else>
        <Glyph state="waiting" :word="row.tries ? `after ${row.tries} tries` : 'soon'" />
        <div class="quiet">next <When :at="row.due_at" clock /></div>
      </template>
    </template>
    <template #after>
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
    </template>
  </ListPage>
</template>
