<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** Where one is signed in, with a way to end it. */
defineProps<{ sessions: Schemas['SessionOut'][] }>()
const end = useAction((handle: string) =>
  ask(api.DELETE('/api/v1/profile/sessions/{handle}', { params: { path: { handle } } })),
)
const others = useAction(() => ask(api.DELETE('/api/v1/profile/sessions')))
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>Where I am signed in</h2>
      <el-button v-if="sessions.length > 1" @click="others.go()">Sign out everywhere else</el-button>
    </div>
    <table class="ledger">
      <tbody>
        <tr v-for="one in sessions" :key="one.handle">
          <td>
            {{ one.this ? 'Here' : 'Elsewhere' }}, {{ one.address }}
            <div class="quiet">{{ one.agent || 'unknown browser' }}; by {{ one.how }}</div>
          </td>
          <td class="num">used <When :at="one.seen_at" /></td>
          <td class="num">
            <el-button v-if="!one.this" link type="primary" @click="end.go(one.handle)"
              >Sign out there</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="end.error.value ?? others.error.value" />
  </section>
</template>
