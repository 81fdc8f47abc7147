<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { SYSTEM_ACCESS } from '@/api/words'
import { useAddressed } from '@/shared/address'
import Chart from '@/shared/Chart.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import { several } from '@/shared/format'
import ListFacet from '@/shared/ListFacet.vue'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import PersonField from '@/shared/PersonField.vue'
import { usePeople } from '@/shared/people'
import type { Picture } from '@/shared/picture'
import { useMe } from '@/shared/session'
import { useEdit } from '@/shared/useEdit'
import { useList } from '@/shared/useList'

/** An example of a page: a list that is narrowed, one row changed by two people at once, and a picture. */
type Row = Schemas['InventoryRow']
const { may } = useMe()
const list = useList<Row>({
  key: ['systems', 'list'],
  filters: { text: 'words', access: 'words' },
  columns: [
    { key: 'access', name: 'Access' },
    { key: 'owner', name: 'Owner' },
    { key: 'used', name: 'Used by', num: true },
  ],
  ask: async (wanted) => {
    const query = { text: String(wanted.text ?? '') }
    const rows = await ask(api.GET('/api/v1/systems', { params: { query } }))
    return { rows: wanted.access ? rows.filter((row) => row.access === wanted.access) : rows }
  },
})
const { rows } = list
const open = useAddressed('system')
const chosen = computed(() => rows.value.find((row) => row.id === open.value))

const edit = useEdit(
  () => {
    const row = chosen.value
    return row && { name: row.name, access: row.access, owner_id: row.owner_id, note: row.note }
  },
  (fields, version) => {
    const params = { path: { number: open.value ?? 0 }, header: { 'if-match': `"${version}"` } }
    const body = { ...fields, test_system: chosen.value?.test_system ?? 'not known' }
    return ask(api.PUT('/api/v1/systems/{number}', { params, body }))
  },
  {
    what: 'The system',
    place: () => `system-${open.value}`,
    version: () => chosen.value?.version,
    touched: [['systems']],
    after: () => (open.value = null),
  },
)
const { fields, ready, save } = edit
const { nameOf } = usePeople()
const say = (path: string, value: unknown) => (path === 'owner_id' ? nameOf(value) : undefined)
const plain = (words: string) => ({ value: words, words })

const picture = computed<Picture>(() => ({
  title: 'Systems by how a robot gets at them',
  kind: 'bars',
  unit: 'systems',
  columns: ['Access', 'Systems'],
  rows: SYSTEM_ACCESS.map((access) => [access, rows.value.filter((row) => row.access === access).length]),
}))
</script>

<template>
  <ListPage :list="list" title="Systems" first="System" words="Name, note or owner" :open="open">
    <template #lead>What the work touches, and what breaks if it changes.</template>
    <template #facets>
      <ListFacet
        :list="list"
        name="access"
        label="Access"
        nothing="every access"
        :options="SYSTEM_ACCESS.map(plain)"
      />
    </template>
    <template #empty>No system fits this.</template>
    <template #first="{ row }">
      <el-button link type="primary" @click="open = row.id">{{ row.name }}</el-button>
      <div v-if="row.note" class="quiet">{{ row.note }}</div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'used'">{{ several(row.ideas, 'idea', 'ideas') }}</template>
      <template v-else>{{ column.key === 'owner' ? (row.owner ?? 'nobody yet') : row.access }}</template>
    </template>
    <template #opened>
      <FormSheet
        v-if="ready"
        :edit="edit"
        action="Keep it"
        leave="Cancel"
        :fields="['name', 'note']"
        :names="{ owner_id: 'Owner' }"
        :say="say"
        :wait="may('system.change') ? '' : 'You may look at systems and not change them.'"
        @leave="open = null"
      >
        <Field v-slot="{ id }" label="Name" :fault="faultOf(save.error.value, 'name')">
          <el-input :id="id" v-model="fields.name" maxlength="80" />
        </Field>
        <Field v-slot="{ id }" label="Owner"><PersonField :id="id" v-model="fields.owner_id" /></Field>
        <Field v-slot="{ id }" label="Note" :fault="faultOf(save.error.value, 'note')">
          <el-input :id="id" v-model="fields.note" maxlength="500" />
        </Field>
      </FormSheet>
    </template>
    <template #after>
      <Chart v-if="rows.length" :picture="picture" :height="180" />
      <MarginNotes>
        <section class="stack tight">
          <h2>What a system is</h2>
          <p class="quiet">A program or place that work goes through; a sizing names the ones it touches.</p>
        </section>
      </MarginNotes>
    </template>
  </ListPage>
</template>
