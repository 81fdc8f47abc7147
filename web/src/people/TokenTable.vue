<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** Tokens with what each may do, until when, when used last, and a way to revoke it. */
defineProps<{ rows: Schemas['TokenRow'][]; owners?: boolean }>()
const revoke = useAction((id: number) =>
  ask(api.DELETE('/api/v1/tokens/{number}', { params: { path: { number: id } } })),
)
const WORDS: Record<string, string> = {
  open: 'good until',
  over: 'ran out',
  revoked: 'revoked; was good until',
}
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th>Program</th>
        <th>May</th>
        <th class="num">Good</th>
        <th class="num">Last used</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in rows" :key="one.id">
        <td>
          <b>{{ one.name }}</b>
          <div v-if="owners" class="quiet">of {{ one.person }}</div>
        </td>
        <td class="quiet">
          <div v-for="line in one.words" :key="line">{{ line }}</div>
        </td>
        <td class="num">{{ WORDS[one.state] }} <When :at="one.ends_at" /></td>
        <td class="num">
          <template v-if="one.used_at"
            ><When :at="one.used_at" />
            <div class="quiet">from {{ one.used_from }}</div></template
          >
          <template v-else>never</template>
        </td>
        <td class="num">
          <el-button
            v-if="one.may_revoke"
            :disabled="revoke.busy.value"
            link
            type="primary"
            @click="revoke.go(one.id)"
          >
            Revoke
          </el-button>
        </td>
      </tr>
    </tbody>
  </table>
  <Problem :error="revoke.error.value" />
</template>
