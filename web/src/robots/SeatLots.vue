<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { dayText, money, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import { useMe } from '@/shared/session'
import { later } from '@/shared/later'

const LotForm = later(() => import('./LotForm.vue'))

/** Seats bought, lot by lot: from when to when, at which price. */
const props = defineProps<{ seats: Schemas['SeatsOfKind']; mayBuy: boolean; today: string }>()
type Lot = Schemas['LotOfSeats']
const { currency } = useMe()
const open = ref<'new' | number | null>(null)
const SHAPES = { there: 'met', coming: 'draft', 'ends soon': 'waiting', ended: 'cancelled' } as const
const shape = (lot: Lot) => SHAPES[lot.state as keyof typeof SHAPES]
const ends = (lot: Lot) =>
  lot.last_on === null
    ? 'for good'
    : `to ${dayText(lot.last_on)}` +
      (lot.state === 'ends soon'
        ? lot.days_left
          ? `, ${several(lot.days_left, 'day', 'days')} left`
          : ', its last day'
        : '')
const over = ref(false)
const shown = computed(() =>
  over.value ? props.seats.lots : props.seats.lots.filter((lot) => lot.state !== 'ended'),
)
const ended = computed(() => props.seats.lots.filter((lot) => lot.state === 'ended').length)
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h3>Bought</h3>
      <el-button v-if="mayBuy && open !== 'new'" @click="open = 'new'">Enter seats bought</el-button>
    </div>
    <LotForm v-if="open === 'new'" :kind="seats.kind" :today="today" @leave="open = null" />
    <p v-if="!seats.lots.length && open !== 'new'" class="note">
      Not entered how many are bought; so nothing limits how many are given, and no end is told.
    </p>
    <ul v-if="seats.lots.length" class="lots">
      <li v-for="lot in shown" :key="lot.id" :data-state="lot.state">
        <LotForm v-if="open === lot.id" :kind="seats.kind" :lot="lot" :today="today" @leave="open = null" />
        <div v-else class="spread">
          <div>
            <b class="number">{{ several(lot.number, 'seat', 'seats') }}</b>
            from {{ dayText(lot.first_on) }} {{ ends(lot) }}
            <div class="quiet">
              <template v-if="lot.a_year"
                >{{ money(lot.a_year, currency) }} a seat a year{{
                  lot.from_rates ? ', by the cost tables' : ''
                }}</template
              ><template v-else>no price known</template><template v-if="lot.note">; {{ lot.note }}</template>
            </div>
          </div>
          <div class="row still">
            <Glyph :state="shape(lot)" :word="lot.state" />
            <el-button
              v-if="mayBuy"
              link
              type="primary"
              :aria-label="`Change the lot of ${several(lot.number, 'seat', 'seats')} from ${dayText(lot.first_on)}`"
              @click="open = lot.id"
              >Change</el-button
            >
          </div>
        </div>
      </li>
    </ul>
    <el-button v-if="ended" link type="primary" class="over" :aria-pressed="over" @click="over = !over"
      >{{ over ? 'Without' : 'With' }} {{ several(ended, 'lot', 'lots') }} that ended</el-button
    >
  </section>
</template>

<style scoped>
.lots {
  margin: 0;
  padding: 0;
  list-style: none;
}
.lots li {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.number {
  font-variant-numeric: tabular-nums;
}
.still {
  flex-wrap: nowrap;
}
.over {
  align-self: flex-start;
}
</style>
