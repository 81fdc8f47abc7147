<script setup lang="ts">
import { computed } from 'vue'
import { money, number } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'
import { COLUMNS, reach, type Row } from './lists'

/** Ideas as a table: the columns somebody chose, ticked for doing one thing with many. */
const props = defineProps<{ rows: Row[]; columns: string[]; sort: string; currency: string }>()
const emit = defineEmits<{ sort: [name: string] }>()
const ticked = defineModel<number[]>({ required: true })
const shown = computed(() => COLUMNS.filter((column) => props.columns.includes(column.key)))
const all = computed(() => props.rows.length > 0 && props.rows.every((row) => ticked.value.includes(row.id)))
function tick(id: number) {
  ticked.value = ticked.value.includes(id) ? ticked.value.filter((one) => one !== id) : [...ticked.value, id]
}
function tickAll() {
  ticked.value = all.value ? [] : props.rows.map((row) => row.id).slice(0, 200)
}
const days = (late: number): string => `${late} ${late === 1 ? 'day' : 'days'} late`
</script>

<template>
  <div class="wide">
    <table class="ledger">
      <thead>
        <tr>
          <th class="tick">
            <el-checkbox aria-label="Choose all shown" :model-value="all" @change="tickAll" />
          </th>
          <th>Idea</th>
          <th v-for="column in shown" :key="column.key" :class="{ num: column.num }">
            <el-button
              v-if="column.sort"
              class="head"
              :aria-pressed="sort === column.sort"
              link
              type="primary"
              @click="emit('sort', column.sort)"
              >{{ column.name }}{{ sort === column.sort ? ' ↓' : '' }}
            </el-button>
            <template v-else>{{ column.name }}</template>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="idea in rows" :key="idea.id" :class="{ open: ticked.includes(idea.id) }">
          <td class="tick">
            <el-checkbox
              :aria-label="`Choose I-${idea.id}`"
              :model-value="ticked.includes(idea.id)"
              @change="tick(idea.id)"
            />
          </td>
          <td>
            <router-link
              class="whole"
              :to="idea.stage === 'draft' ? `/ideas/new/${idea.id}` : `/ideas/${idea.id}`"
            >
              I-{{ idea.id }} {{ idea.title || 'without a name' }}
            </router-link>
            <div class="quiet">
              {{ idea.proposer }}<template v-if="idea.division">, {{ idea.division }}</template
              ><template v-if="idea.amends_id">; a change to I-{{ idea.amends_id }}</template>
            </div>
          </td>
          <td v-for="column in shown" :key="column.key" :class="{ num: column.num }">
            <template v-if="column.key === 'stage'">
              <Glyph :state="idea.stage" />
              <div v-if="idea.building" class="quiet">{{ idea.building }}</div>
            </template>
            <template v-else-if="column.key === 'reach'">{{ reach(idea) }}</template>
            <template v-else-if="column.key === 'worth'">{{ money(idea.worth, currency) }}</template>
            <template v-else-if="column.key === 'effort'">{{ number(idea.effort_days, 1) }}</template>
            <template v-else-if="column.key === 'due'">
              <When v-if="idea.due_on" :at="idea.due_on" /><template v-else>–</template>
              <div v-if="idea.days_late" class="quiet bad">{{ days(idea.days_late) }}</div>
            </template>
            <When v-else-if="column.key === 'since'" :at="idea.stage_since" day />
            <When v-else-if="column.key === 'changed'" :at="idea.changed_at" day />
            <template v-else-if="column.key === 'owner'">{{ idea.owner ?? '–' }}</template>
            <template v-else-if="column.key === 'source'">{{ idea.source }}</template>
            <template v-else>{{ idea.route }}</template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.tick {
  width: 26px;
}
.head {
  font: inherit;
  color: inherit;
  white-space: normal;
  text-align: inherit;
}
.head[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
}
@media (max-width: 700px) {
  .wide {
    overflow-x: auto;
  }
}
</style>
