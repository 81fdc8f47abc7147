<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'

/** A file of two releases side by side: a sign says what is gone (−), new (+) or changed (±). */
const props = defineProps<{ release: number; other: number; name: string }>()
const query = useQuery({
  queryKey: ['packages', 'sides', () => props.release, () => props.other, () => props.name],
  queryFn: () =>
    ask(
      api.GET('/api/v1/releases/{number}/differences/file', {
        params: { path: { number: props.release }, query: { other: props.other, name: props.name } },
      }),
    ),
})
const SIGNS: Record<string, string> = { same: '', changed: '±', gone: '−', new: '+' }
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <p v-if="query.data.value && !query.data.value.rows.length" class="quiet">Its lines are the same.</p>
    <div
      v-else-if="query.data.value"
      class="sides"
      tabindex="0"
      role="region"
      :aria-label="`${name} side by side`"
    >
      <table>
        <thead>
          <tr>
            <th colspan="2">{{ query.data.value.before }}</th>
            <th><span class="unseen">What is different</span></th>
            <th colspan="2">{{ query.data.value.after }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in query.data.value.rows" :key="n" :class="row.state.replace(' ', '-')">
            <td v-if="row.state === 'left out'" colspan="5" class="quiet">
              {{ several(Number(row.left), 'line is', 'lines are') }} the same
            </td>
            <template v-else>
              <td class="at">{{ row.left_number === null ? '' : number(row.left_number) }}</td>
              <td class="text">{{ row.left }}</td>
              <td class="sign">
                <span aria-hidden="true">{{ SIGNS[row.state] }}</span><span class="unseen">{{
                  row.state
                }}</span>
              </td>
              <td class="at">{{ row.right_number === null ? '' : number(row.right_number) }}</td>
              <td class="text">{{ row.right }}</td>
            </template>
          </tr>
        </tbody>
      </table>
    </div>
  </Loaded>
</template>

<style scoped>
.sides {
  overflow-x: auto;
  max-height: 70vh;
}
table {
  border-collapse: collapse;
  font-family: ui-monospace, monospace;
  font-size: 12.5px;
  min-width: 100%;
}
th {
  text-align: left;
  font-weight: 600;
}
.text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  min-width: 260px;
  vertical-align: top;
}
.at {
  color: var(--ink-2);
  padding: 0 8px;
  text-align: right;
  vertical-align: top;
}
.sign {
  width: 22px;
  text-align: center;
  font-weight: 700;
}
.changed .text,
.gone .text:first-of-type,
.new .text {
  background: var(--margin);
}
.left-out td {
  padding: 4px 8px;
}
</style>
