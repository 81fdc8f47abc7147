<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { several } from '@/shared/format'
import { useAddressed } from '@/shared/address'
import HouseTabs from '@/shared/HouseTabs.vue'
import { has } from '@/shared/words'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'
import { later } from '@/shared/later'

const SecretForm = later(() => import('./SecretForm.vue'))
const SecretUses = later(() => import('./SecretUses.vue'))

/** The safe: which secrets there are, until when they are good, and who used each. */
type Row = Schemas['SecretRow']
const route = useRoute()
const safe = ref<Schemas['SecretsOut']>()
const list = useList<Row>({
  key: ['safe', 'all'],
  filters: { text: 'words' },
  columns: [
    { key: 'for', name: 'For' },
    { key: 'put', name: 'Value put in', num: true },
    { key: 'ends', name: 'Good until', num: true },
    { key: 'used', name: 'Last used', num: true },
  ],
  ask: async ({ text }) => {
    safe.value = await ask(api.GET('/api/v1/secrets'))
    const fits = (one: Row) => has(text, one.name, one.about, one.area, one.kind_words)
    return { rows: safe.value.secrets.filter(fits) }
  },
})
const making = ref(route.query.add === 'secret')
const open = useAddressed('secret')
const wrapped = computed(() => safe.value?.keys.reduce((sum, key) => sum + key.secrets, 0) ?? 0)
const former = computed(() => safe.value?.keys.filter((key) => !key.current) ?? [])
</script>

<template>
  <ListPage :list="list" title="Secrets" first="Secret" words="Name, use or area" :open="open">
    <template #lead>Secrets, shown to nobody, and named values, used by robots and settings.</template>
    <template #acts>
      <el-button v-if="safe?.may_make" type="primary" @click="making = !making">Put one in</el-button>
    </template>
    <template #tabs>
      <HouseTabs />
      <SecretForm
        v-if="making && safe?.may_make"
        :kinds="safe.kinds"
        @done="making = false"
        @leave="making = false"
      />
    </template>
    <template #empty="{ filtered }">
      <template v-if="filtered">No secret is like that.</template>
      <template v-else>
        The safe is empty. A package names the secrets it wants in package.toml; put each in under that name.
      </template>
    </template>
    <template #first="{ row }">
      <el-button
        :aria-expanded="open === row.id"
        link
        type="primary"
        @click="open = open === row.id ? null : row.id"
        >{{ row.name }}
      </el-button>
      <div class="quiet">
        {{ row.of_people ? row.about || row.kind_words : 'changed where its settings are' }}
      </div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'for'">
        {{ row.of_people ? (row.area ?? 'the whole company') : row.kind_words }}
        <div v-if="row.value !== null" class="named">
          <span class="quiet">named value</span> {{ row.value }}
        </div>
      </template>
      <template v-else-if="column.key === 'put'">
        <When :at="row.changed_at" />
        <div v-if="row.made_by" class="quiet">by {{ row.made_by }}</div>
      </template>
      <template v-else-if="column.key === 'ends' && row.expires_on">
        <When :at="row.expires_on" />
        <div v-if="row.ends === 'soon'" class="quiet care">! ends soon</div>
        <div v-else-if="row.ends === 'over'" class="quiet bad">× it is over</div>
      </template>
      <template v-else-if="column.key === 'ends'">no end</template>
      <When v-else-if="row.used_at" :at="row.used_at" />
      <template v-else>never</template>
    </template>
    <template #opened="{ row }"><SecretUses :secret="row" /></template>
    <template #after>
      <MarginNotes>
        <section class="stack tight">
          <h2>How they are kept</h2>
          <p class="quiet">
            Each value is sealed under a key of its own, and that key by one which lies outside the database.
            Nobody can read a value here: put in another when it is not known any more. A robot gets it for
            one run, if the package names it and the routine lies in its area; what a run says is cleaned of
            it.
          </p>
          <p class="quiet">
            It is found as it is, and as programs usually write it: in addresses, JSON, hexadecimal and base
            64. What a package disguises on purpose can pass, and one of fewer than four characters goes only
            where it stands alone; so give a package no secret that its builder may not know.
          </p>
          <p class="quiet">
            A named value is no secret, such as an address or a limit: it stands in this list, and in what a
            run says. A package asks for it by name like for a secret, and it too can differ by host or robot.
          </p>
          <p v-if="safe?.keys.length" class="quiet">
            {{ several(wrapped, 'value is', 'values are') }}, all second factors included, wrapped by
            <template v-for="key in safe.keys.filter((k) => k.current)" :key="key.key_id"
              >the current key {{ key.key_id }} ({{ key.secrets }})</template
            ><template v-for="key in former" :key="key.key_id"
              >, the former key {{ key.key_id }} ({{ key.secrets }})</template
            >. <b>./tallyman rotate-key</b> makes a new one while everything goes on.
          </p>
          <p v-if="safe" class="quiet">
            Who can change a secret is told {{ safe.early_days }} days before it ends.
          </p>
        </section>
      </MarginNotes>
    </template>
  </ListPage>
</template>

<style scoped>
.named {
  overflow-wrap: anywhere;
}
</style>
