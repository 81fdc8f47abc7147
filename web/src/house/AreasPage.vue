<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import AddArea from './AddArea.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import AreaForm from './AreaForm.vue'
import BringHere from './BringHere.vue'
import ClosedDays from './ClosedDays.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import MoveArea from './MoveArea.vue'
import { useAreas } from '@/shared/areas'
import { useAddressed } from '@/shared/address'

/** Areas as a tree; dragged, or moved by keyboard, with a look at who gains and loses before. */
type Area = Schemas['AreaOut']
const { may } = useMe()
const { query } = useAreas()
const adding = ref(false)
const bringing = ref<number | null>(null)
const mover = computed(() => may('routine.change') || may('robot.change'))
const open = useAddressed('area')
const moving = ref<{ area: Area; to: number | null | undefined } | null>(null)
const dragged = ref<Area | null>(null)
const over = ref<number | null>(null)

const rows = computed(() => {
  const all = query.data.value?.areas ?? []
  const known = new Set(all.map((one) => one.id))
  const found: { area: Area; depth: number }[] = []
  const walk = (parent: number | null, depth: number) => {
    for (const area of all) {
      const top = area.parent_id === null || !known.has(area.parent_id)
      if (parent === null ? top : area.parent_id === parent) {
        found.push({ area, depth })
        walk(area.id, depth + 1)
      }
    }
  }
  walk(null, 0)
  return found
})
const nameOf = (id: number | null) => query.data.value?.areas.find((one) => one.id === id)?.name ?? 'the top'
function drop(to: number | null) {
  over.value = null
  const area = dragged.value
  dragged.value = null
  if (area && area.id !== to && area.parent_id !== to) moving.value = { area, to }
}
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Areas</h1>
        <p class="lead">Areas: where routines, robots and access live together.</p>
      </div>
      <el-button v-if="may('area.make')" type="primary" @click="adding = !adding">Add an area</el-button>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <AddArea
        v-if="adding"
        :areas="query.data.value?.areas ?? []"
        @done="adding = false"
        @leave="adding = false"
      />
      <MoveArea
        v-if="moving"
        :key="`${moving.area.id}-${moving.to}`"
        :area="moving.area"
        :to="moving.to"
        :areas="query.data.value?.areas ?? []"
        @done="moving = null"
        @leave="moving = null"
      />
      <p v-if="!rows.length" class="note">
        No area yet. The first one is often the team's own; others lie below it.
      </p>
      <table v-else class="ledger">
        <thead>
          <tr>
            <th>Area</th>
            <th class="num">Routines</th>
            <th class="num">Robots allowed</th>
            <th class="num">Roles held</th>
            <th class="apart">Closed days of its own</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="{ area, depth } in rows" :key="area.id">
            <tr
              :class="{ open: over === area.id || open === area.id }"
              @dragover.prevent="over = area.id"
              @dragleave="over = null"
              @drop.prevent="drop(area.id)"
            >
              <td :style="{ paddingLeft: `${depth * 22}px` }">
                <span
                  class="name"
                  :class="{ grab: area.may_change }"
                  :draggable="area.may_change"
                  @dragstart="dragged = area"
                  @dragend="((dragged = null), (over = null))"
                  >{{ area.name }}</span
                >
              </td>
              <td class="num">{{ area.routines || '–' }}</td>
              <td class="num">{{ area.robots || '–' }}</td>
              <td class="num">{{ area.held || '–' }}</td>
              <td class="quiet apart">
                {{
                  area.days
                    .map((day) => day.day)
                    .slice(0, 3)
                    .join(', ')
                }}{{ area.days.length > 3 ? ` and ${area.days.length - 3} more` : '' }}
              </td>
              <td class="num">
                <span class="acts">
                  <router-link :to="`/uses/area/${area.id}`" :aria-label="`What hangs on it: ${area.name}`"
                    >What hangs on it</router-link
                  >
                  <el-button
                    v-if="mover"
                    link
                    type="primary"
                    :aria-expanded="bringing === area.id"
                    :aria-label="`Bring here, to ${area.name}`"
                    @click="bringing = bringing === area.id ? null : area.id"
                    >Bring here</el-button
                  >
                  <template v-if="area.may_change">
                    <el-button link type="primary" @click="moving = { area, to: undefined }">Move</el-button>
                    <el-button
                      :aria-expanded="open === area.id"
                      link
                      type="primary"
                      @click="open = open === area.id ? null : area.id"
                    >
                      Change
                    </el-button>
                  </template>
                </span>
              </td>
            </tr>
            <tr v-if="bringing === area.id">
              <td colspan="6"><BringHere :key="area.id" :area="area" @leave="bringing = null" /></td>
            </tr>
            <tr v-if="open === area.id && area.may_change">
              <td colspan="6">
                <AreaForm :key="area.id" :area="area" @done="open = null" @leave="open = null" />
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <p v-if="dragged" class="note" @dragover.prevent @drop.prevent="drop(null)">
        Drop it here to put {{ dragged.name }} at the top, out of {{ nameOf(dragged.parent_id) }}.
      </p>
      <section v-if="query.data.value" class="stack tight">
        <h2>Closed days of the whole company</h2>
        <p><router-link to="/uses/calendar/0">What looks at them</router-link></p>
        <ClosedDays :area="null" :days="query.data.value.closed_days" :change="query.data.value.may_close" />
      </section>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>Moving an area</h2>
        <p class="quiet">
          Drag its name onto another area, or use Move. What is held for an area reaches all below it, so a
          move changes who may do what; you see who before anything happens.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.name {
  font-weight: 600;
}
table.ledger .apart {
  padding-left: 24px;
}
.grab {
  cursor: grab;
}
.acts {
  display: inline-flex;
  gap: 14px;
}
</style>
