<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { several, size } from '@/shared/format'
import { has } from '@/shared/words'
import ListPage from '@/shared/ListPage.vue'
import { useMe } from '@/shared/session'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'
import ReleaseForm from './ReleaseForm.vue'
import { seenBy } from './seenBy'
import UnseenReleases from './UnseenReleases.vue'
import Wheels from './Wheels.vue'

/** Releases of packages, the newest first, and the wheels that they may require. */
type Row = Schemas['ReleaseRow']
const { may } = useMe()
const list = useList<Row>({
  key: ['packages', 'list'],
  filters: { text: 'words' },
  columns: [
    { key: 'tags', name: 'Tags' },
    { key: 'seen', name: 'Seen by' },
    { key: 'size', name: 'Size', num: true },
    { key: 'use', name: 'Used by', num: true },
    { key: 'at', name: 'Released', num: true },
  ],
  ask: async ({ text }) => {
    const rows = await ask(api.GET('/api/v1/releases'))
    const fits = (one: Row) =>
      has(text, one.package, one.version, one.about, one.note, one.person, ...one.tags)
    return { rows: rows.filter(fits) }
  },
})
</script>

<template>
  <ListPage :list="list" title="Workshop" first="Release" words="Package, tag, note, person">
    <template #lead>Packages are released here and set up as routines.</template>
    <template #acts><slot name="acts" /></template>
    <template #tabs>
      <slot name="tabs" />
      <ReleaseForm v-if="may('package.make')" />
    </template>
    <template #empty="{ filtered }">
      {{ filtered ? 'No release is like that.' : 'No package has been released yet.' }}
    </template>
    <template #first="{ row }">
      <router-link class="whole" :to="`/workshop/releases/${row.id}`"
        >{{ row.package }} {{ row.version }}</router-link
      >
      <span v-if="row.withdrawn_at" class="quiet"> withdrawn</span>
      <div class="quiet">{{ row.note || row.about }}</div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'tags'">{{ row.tags.join(', ') || '–' }}</template>
      <template v-else-if="column.key === 'seen'">{{ seenBy(row) }}</template>
      <template v-else-if="column.key === 'size'">{{ size(row.size) }}</template>
      <template v-else-if="column.key === 'use'">{{ several(row.routines, 'routine', 'routines') }}</template>
      <template v-else>
        <When :at="row.at" day />
        <div class="quiet">{{ row.person }}</div>
      </template>
    </template>
    <template #after>
      <UnseenReleases :text="String(list.wanted.value.text ?? '')" />
      <Wheels :make="may('package.make')" />
      <slot />
    </template>
  </ListPage>
</template>
