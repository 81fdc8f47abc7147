<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { number } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'
import CountForm from './CountForm.vue'
import CountList from './CountList.vue'

/** Units that no routine counts: given by hand, by a list or by a program, each with its evidence. */
const props = defineProps<{ idea: number }>()
const query = useQuery({
  queryKey: ['tally', 'counts', () => props.idea],
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/counts', { params: { path: { number: props.idea } } })),
})
const data = computed(() => query.data.value)
const open = ref<'one' | 'list' | number | null>(null)
const waiting = computed(() => data.value?.rows.filter((one) => !one.posted && !one.taken_back).length ?? 0)
const changed = computed(() => data.value?.rows.find((one) => one.id === open.value))
</script>

<template>
  <section v-if="data && (data.rows.length || data.may_count)" class="stack tight">
    <h2>Counted by hand</h2>
    <p class="quiet">
      <template v-if="data.counted_since">
        Its routine counts since <When :at="data.counted_since" />; days before can still be given by hand.
      </template>
      <template v-else>
        Until a routine counts for it, its units are given here: by hand, by a list, or by a program through
        the API.
      </template>
    </p>
    <p v-if="waiting" class="note care">
      {{ waiting }} of these {{ waiting === 1 ? 'is' : 'are' }} not in the tally yet: the minutes saved have
      to be measured and approved first. <router-link to="/value/rates">Rates</router-link>
    </p>
    <table v-if="data.rows.length" class="ledger">
      <thead>
        <tr>
          <th>Days</th>
          <th class="num">Units</th>
          <th>Where from</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data.rows" :key="one.id">
          <td><When :at="one.first" /> to <When :at="one.last" /></td>
          <td class="num">{{ number(one.units) }}</td>
          <td>
            {{ one.evidence }}
            <span class="quiet">{{ one.source }}, {{ one.person }}</span>
          </td>
          <td>
            <Glyph v-if="one.taken_back" state="withdrawn" word="taken back" />
            <el-button
              v-else-if="data.may_count"
              size="small"
              :aria-expanded="open === one.id"
              @click="open = one.id"
              >Change it</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <CountForm v-if="changed" :key="changed.id" :idea="idea" :count="changed" @done="open = null" />
    <template v-if="data.may_count">
      <p v-if="open === null" class="row">
        <el-button @click="open = 'one'">Give units</el-button>
        <el-button @click="open = 'list'">Bring a list of them</el-button>
      </p>
      <CountForm v-else-if="open === 'one'" :idea="idea" :live-on="data.live_on" @done="open = null" />
      <CountList v-else-if="open === 'list'" :idea="idea" @done="open = null" />
    </template>
  </section>
</template>
