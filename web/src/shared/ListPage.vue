<script setup lang="ts" generic="R extends { id: number }">
import { computed, ref, useSlots } from 'vue'
import { later } from './later'
import ListTable from './ListTable.vue'
import { useSpot } from './address'
import Loaded from './Loaded.vue'
import type { List } from './useList'

// Little used, and heavy: read beside the page.
const ListColumns = later(() => import('./ListColumns.vue'))
const ListTakeOut = later(() => import('./ListTakeOut.vue'))

/**
 * A list as a page: what it is, one row of what narrows it, and its rows. Slots: `acts` beside the title, `tabs`
 * below it, `facets` (three at most) and `more` to narrow, `views` for saved ones, `chosen` for what is done with
 * many, `first` and `cell` of a row, `opened` below it, `empty`, `instead` of the list, `after` it.
 */
const props = defineProps<{
  list: List<R>
  title: string
  first: string
  /** What words are looked for in. */
  words?: string
  /** How many of the filters under *more* are set. */
  set?: number
  ticks?: boolean
  open?: number | null
  nameOf?: (row: R) => string
}>()
const slots = useSlots()
// A row that the address opens is brought into sight.
useSpot(() => props.list.rows.value.length > 0)
const { query, rows, sort, sorts, all, columns, spec, filtered, words: typed, ticked } = props.list
const more = ref((props.set ?? 0) > 0)
const choosing = computed(() => all.value.length > (spec.usual?.length ?? all.value.length))
const orders = computed(() => Object.entries(sorts.value).map(([value, words]) => ({ value, words })))
</script>

<template>
  <div class="stack list">
    <div class="spread">
      <div>
        <h1>{{ title }}</h1>
        <p class="lead"><slot name="lead" /></p>
      </div>
      <div class="row"><slot name="acts" /></div>
    </div>
    <slot name="tabs" />
    <slot v-if="slots.instead" name="instead" />
    <template v-else>
      <div class="row narrow" role="search" :aria-label="`Narrow ${title.toLowerCase()}`">
        <el-input
          v-if="words"
          v-model="typed"
          class="words"
          :aria-label="words"
          :placeholder="words"
          maxlength="100"
          clearable
        />
        <slot name="facets" />
        <el-button v-if="slots.more" link type="primary" :aria-expanded="more" @click="more = !more">{{
          more ? 'Fewer' : set ? `More, ${set} set` : 'More'
        }}</el-button>
        <el-button v-if="filtered" link type="primary" @click="list.clear()">Show all</el-button>
        <span class="push"></span>
        <slot name="views" />
        <ListColumns
          v-if="choosing || orders.length > 1"
          :list="list"
          :choosing="choosing"
          :orders="orders"
        />
        <a v-if="spec.out && spec.endings?.length === 1" class="take" :href="list.out(spec.endings[0]!)"
          >Take out as {{ spec.endings[0]!.toUpperCase() }}</a
        >
        <ListTakeOut v-else-if="spec.out" :list="list" />
      </div>
      <div v-if="more && slots.more" class="rare"><slot name="more" /></div>
      <slot name="chosen" />
      <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length" :lines="8">
        <template #empty>
          <slot name="empty" :filtered="filtered">Nothing fits this.</slot>
          <el-button v-if="filtered" link type="primary" @click="list.clear()">Show all</el-button>
        </template>
        <ListTable
          v-model:ticked="ticked"
          :rows="rows"
          :first="first"
          :columns="columns"
          :sort="sort"
          :ticks="ticks"
          :open="open"
          :name-of="nameOf"
          @sort="(name: string) => (sort = name)"
        >
          <template #first="at"><slot name="first" v-bind="at" /></template>
          <template #cell="at"><slot name="cell" v-bind="at" /></template>
          <template v-if="slots.opened" #opened="at"><slot name="opened" v-bind="at" /></template>
        </ListTable>
        <p v-if="query.hasNextPage.value">
          <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()"
            >Show more</el-button
          >
        </p>
      </Loaded>
      <slot name="after" />
    </template>
  </div>
</template>

<style scoped>
.list {
  gap: 14px;
}
.narrow {
  gap: 10px 14px;
}
.words {
  width: 260px;
}
.push {
  flex: 1;
}
.rare {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: flex-start;
  border-top: 1px solid var(--hair);
  padding-top: 10px;
}
.rare :deep(label) {
  display: grid;
  gap: 3px;
  font-size: 13px;
  color: var(--ink-2);
}
@media (max-width: 700px) {
  .words {
    width: 100%;
  }
  .push {
    display: none;
  }
}
</style>
