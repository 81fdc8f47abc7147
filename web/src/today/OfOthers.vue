<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import WaitRow from './WaitRow.vue'

/** What is first somebody else's duty, folded by kind with its count; one may see to it as well. */
const props = defineProps<{ waits: Schemas['Waits'][] }>()
const NAMES: Record<string, [string, string]> = {
  review: ['idea to review', 'ideas to review'],
  size: ['idea to size', 'ideas to size'],
  agree: ['sizing to agree to', 'sizings to agree to'],
  decide: ['idea to back or not', 'ideas to back or not'],
  build: ['idea to take up', 'ideas to take up'],
  'go live': ['routine to let go live', 'routines to let go live'],
  late: ['late outcome to decide on', 'late outcomes to decide on'],
  count: ['count to look at', 'counts to look at'],
  rate: ['rate to approve', 'rates to approve'],
  access: ['request for access', 'requests for access'],
}
const groups = computed(() =>
  [...new Set(props.waits.map((one) => one.kind))].map((kind) => {
    const rows = props.waits.filter((one) => one.kind === kind)
    const count = rows.reduce((sum, one) => sum + one.stands_for, 0)
    const late = rows.filter((one) => one.late).length
    return { kind, rows, count, late, role: rows[0]?.duty_of ?? '', people: rows[0]?.people ?? [] }
  }),
)
const open = ref<string[]>([])
const whose = (role: string, people: readonly string[]): string =>
  `${people.slice(0, 2).join(', ')}${people.length > 2 ? ` and ${several(people.length - 2, 'other', 'others')}` : ''}, ${role}`
</script>

<template>
  <section v-if="groups.length" class="stack tight">
    <h2>What waits for others first</h2>
    <el-collapse v-model="open">
      <el-collapse-item v-for="one in groups" :key="one.kind" :name="one.kind">
        <template #title>
          <span class="title"
            ><b>{{ several(one.count, ...(NAMES[one.kind] ?? ['thing', 'things'])) }}</b>
            <span class="quiet"> {{ whose(one.role, one.people) }}</span>
            <span v-if="one.late" class="quiet bad"> {{ one.late }} late</span></span
          >
        </template>
        <table class="ledger" :aria-label="NAMES[one.kind]?.[1] ?? one.kind">
          <tbody>
            <WaitRow v-for="row in one.rows" :key="row.link" :one="row" />
          </tbody>
        </table>
      </el-collapse-item>
    </el-collapse>
  </section>
</template>

<style scoped>
.title {
  font-size: 14px;
}
</style>
