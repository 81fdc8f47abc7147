<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import { later } from '@/shared/later'

const GiveSeats = later(() => import('./GiveSeats.vue'))
const HostSeats = later(() => import('./HostSeats.vue'))

/** Who has seats of a kind: hosts, or people and groups; how many of them are in use. */
const props = defineProps<{ seats: Schemas['SeatsOfKind']; mayGive: boolean }>()
type Holder = Schemas['SeatHolder']
const open = ref<Holder | 'new' | null>(null)
const isOpen = (one: Holder) =>
  open.value !== null && open.value !== 'new' && open.value.what === one.what && open.value.id === one.id
const toPeople = computed(() => ['attended', 'builder'].includes(props.seats.kind))
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h3>Given</h3>
      <el-button v-if="toPeople && mayGive" @click="open = 'new'">Give seats</el-button>
    </div>
    <GiveSeats v-if="open === 'new'" :kind="seats.kind" @leave="open = null" />
    <p v-if="!seats.holders.length && open !== 'new'" class="note">
      {{ toPeople ? 'Nobody has such a seat yet.' : 'There is no host yet.' }}
    </p>
    <table v-if="seats.holders.length" class="ledger stacks">
      <thead>
        <tr>
          <th>{{ toPeople ? 'Whom' : 'Host' }}</th>
          <th class="num">Seats</th>
          <th v-if="seats.used !== null" class="num">In use</th>
          <th v-if="!toPeople" class="num">Peak</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in seats.holders" :key="`${one.what}-${one.id}`">
          <tr>
            <td class="whole">
              <router-link v-if="one.what === 'host'" :to="`/robots/hosts/${one.id}`">{{
                one.name
              }}</router-link>
              <template v-else>{{ one.name }}</template>
              <span v-if="one.what === 'group'" class="quiet"> group, its members share them</span>
              <div v-if="one.gone" class="care">
                {{ one.what === 'group' ? 'out of use' : 'has left' }}: take the seats away
              </div>
            </td>
            <td class="num" data-head="seats">{{ one.number }}</td>
            <td v-if="seats.used !== null" class="num" data-head="in use">{{ one.used }}</td>
            <td v-if="!toPeople" class="num" data-head="peak">
              {{ one.peak
              }}<span v-if="one.number && one.peak && one.peak >= one.number" class="care"> all</span>
            </td>
            <td class="num whole">
              <el-button
                v-if="one.may_change"
                link
                type="primary"
                :aria-expanded="isOpen(one)"
                :aria-label="`Change the seats of ${one.name}`"
                @click="open = isOpen(one) ? null : one"
                >Change</el-button
              >
            </td>
          </tr>
          <tr v-if="isOpen(one)">
            <td colspan="5">
              <HostSeats
                v-if="one.what === 'host'"
                :host="{ id: one.id, name: one.name }"
                :kind="seats.kind"
                :number="one.number"
                @leave="open = null"
              />
              <GiveSeats v-else :kind="seats.kind" :holder="one" @leave="open = null" />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="seats.unseen" class="quiet">
      {{ several(seats.unseen, 'seat is', 'seats are') }} on hosts that you may not see.
    </p>
    <p v-if="toPeople" class="quiet">
      {{
        seats.kind === 'builder'
          ? 'A builder’s seat is taken while a try-out runs.'
          : 'An attended seat is taken while a run works on a person’s own computer.'
      }}
    </p>
  </section>
</template>
