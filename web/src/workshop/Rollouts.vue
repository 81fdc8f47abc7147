<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'
import { HOW_SAID } from './rollout'

/** Roll-outs: those under way, and the last ones that are over. */
const FIRST = 5
const query = useQuery({
  queryKey: ['rollouts', 'list'],
  queryFn: () => ask(api.GET('/api/v1/rollouts')),
})
const rows = computed(() => query.data.value ?? [])
const whole = ref(false)
const under = computed(() => rows.value.filter((one) => one.state === 'under way').length)
const shown = computed(() => (whole.value ? rows.value : rows.value.slice(0, Math.max(FIRST, under.value))))
const SHAPES = { 'under way': 'running', done: 'done', 'gone back': 'lost' } as const
</script>

<template>
  <section v-if="rows.length" class="stack tight">
    <h2>Roll-outs{{ under ? `: ${under} under way` : '' }}</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="one in shown" :key="one.id">
          <td style="width: 120px"><Glyph :state="SHAPES[one.state]" :word="one.state" /></td>
          <td>
            <router-link class="whole" :to="`/workshop/rollouts/${one.id}`"
              >{{ one.package }} {{ one.version }}</router-link
            >
            <div class="quiet">
              in {{ several(one.routines ?? 0, 'routine', 'routines') }}, {{ HOW_SAID[one.how] }}, by
              {{ one.person }}
            </div>
          </td>
          <td class="num"><When :at="one.ended_at ?? one.made_at" /></td>
        </tr>
      </tbody>
    </table>
    <p v-if="shown.length < rows.length">
      <el-button link type="primary" @click="whole = true">Show the last {{ rows.length }}</el-button>
    </p>
  </section>
</template>
