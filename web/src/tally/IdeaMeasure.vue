<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import Fold from '@/shared/Fold.vue'
import { number, several } from '@/shared/format'
import When from '@/shared/When.vue'
import MeasureNote from './MeasureNote.vue'
import MeasurePromise from './MeasurePromise.vue'

/** Work before and after something was done about it, what that saves, and what was promised of it. */
const props = defineProps<{ idea: number; liveOn: string | null }>()
const query = useQuery({
  queryKey: ['tally', 'measures', () => props.idea],
  queryFn: () =>
    ask(api.GET('/api/v1/ideas/{number}/measures', { params: { path: { number: props.idea } } })),
})
const data = computed(() => query.data.value)
const PHASES = [
  { key: 'before' as const, name: 'Before' },
  { key: 'after' as const, name: 'After' },
]
const open = ref<'before' | 'after' | 'promise' | null>(null)
const STATES: Record<string, string> = {
  proposed: 'waits for somebody else to approve it',
  approved: 'is approved, and counts',
}
</script>

<template>
  <section v-if="data?.fits" class="stack tight">
    <h2>Before and after</h2>
    <table class="ledger measured">
      <thead>
        <tr>
          <th></th>
          <th class="num">Minutes each</th>
          <th>How it was measured</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="phase in PHASES" :key="phase.key">
          <td>{{ phase.name }}</td>
          <td class="num">{{ data[phase.key] ? number(data[phase.key]?.minutes ?? '0') : '–' }}</td>
          <td>
            <template v-if="data[phase.key]">
              {{ data[phase.key]?.evidence }}
              <span class="quiet">
                <template v-if="data[phase.key]?.items"
                  >{{ several(data[phase.key]?.items ?? 0, 'item', 'items') }}, </template
                ><When :at="data[phase.key]?.day ?? ''" />, {{ data[phase.key]?.person }}
              </span>
            </template>
            <span v-else class="quiet">not measured yet</span>
          </td>
          <td>
            <el-button v-if="data.may_measure" size="small" @click="open = phase.key">
              {{ data[phase.key] ? 'Measured anew' : 'Say what it takes' }}
            </el-button>
          </td>
        </tr>
        <tr v-if="data.saved !== null">
          <td><b>Saved each</b></td>
          <td class="num">
            <b>{{ number(data.saved ?? '0') }}</b>
          </td>
          <td colspan="2">
            before − after<template v-if="data.rate !== null">
              <span class="quiet"
                >; {{ number(data.rate ?? '0') }} min from <When :at="data.rate_since ?? ''" />
                {{ STATES[data.rate_state ?? ''] ?? data.rate_state }}</span
              >
              <router-link v-if="data.rate_state === 'proposed'" to="/value/rates"> Rates</router-link>
            </template>
            <span v-else-if="!liveOn" class="quiet">; it counts once it is carried out</span>
          </td>
        </tr>
      </tbody>
    </table>
    <MeasureNote
      v-if="open === 'before' || open === 'after'"
      :key="open"
      :idea="idea"
      :phase="open"
      @done="open = null"
    />
    <Fold
      v-if="data.former.length"
      :words="`${several(data.former.length, 'measuring', 'measurings')} before`"
    >
      <ul>
        <li v-for="one in data.former" :key="one.id">
          {{ one.phase }}: {{ number(one.minutes) }} min, {{ one.evidence }}
          <span class="quiet"><When :at="one.day" />, {{ one.person }}</span>
        </li>
      </ul>
    </Fold>
    <template v-if="!data.promised_by_case">
      <p v-if="!data.promise_number && open !== 'promise'" class="row">
        <span class="quiet">Nothing is promised of it yet, so nothing is set against what it brings.</span>
        <el-button v-if="data.may_promise" @click="open = 'promise'">Say what it is to bring</el-button>
        <span v-else class="quiet">The lead says what it is to bring.</span>
      </p>
      <p v-else-if="data.may_promise && open !== 'promise'" class="row">
        <el-button link type="primary" @click="open = 'promise'">Promise it anew</el-button>
      </p>
      <MeasurePromise
        v-if="open === 'promise'"
        :key="data.promise_number"
        :idea="idea"
        :data="data"
        :live-on="liveOn"
        @done="open = null"
      />
    </template>
  </section>
</template>
