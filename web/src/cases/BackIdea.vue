<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { money, number } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { useDraft } from '@/shared/unsaved'

/** Backing an idea: shows what will be frozen before it is. */
const props = defineProps<{ idea: number; title: string }>()
const { currency } = useMe()
const open = ref(false)
const words = ref('')
const query = useQuery({
  queryKey: ['ideas', 'case', () => props.idea],
  enabled: open,
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/case', { params: { path: { number: props.idea } } })),
})
const data = computed(() => query.data.value)
const back = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/back', {
      params: { path: { number: props.idea } },
      body: { words: words.value },
    }),
  )
  unsent.done()
  open.value = false
})
const unsent = useDraft('Your words on backing', () => `back-${props.idea}`, { words }, { open })
</script>

<template>
  <span>
    <el-button type="primary" @click="open = true">Back this idea</el-button>
    <Confirm
      v-model="open"
      :title="`Back I-${idea} ${title}`"
      action="Back it and freeze the promise"
      :busy="back.busy.value"
      @yes="back.go()"
    >
      <template v-if="data">
        <p v-if="data.missing.length" class="note care">
          The case still lacks {{ data.missing.map((lack) => lack.label).join(', ') }}; it cannot be backed
          before.
        </p>
        <table v-else class="ledger">
          <tbody>
            <tr>
              <td>Saved a year, once live</td>
              <td class="num">{{ money(data.figures.saving_per_year, currency) }}</td>
            </tr>
            <tr>
              <td>Costs once, to build</td>
              <td class="num">{{ money(data.figures.one_time_cost, currency) }}</td>
            </tr>
            <tr>
              <td>Worth over three years, NPV</td>
              <td class="num">{{ money(data.figures.npv_3y, currency) }}</td>
            </tr>
            <tr>
              <td>Paid back after, months</td>
              <td class="num">{{ number(data.figures.payback_months, 1) }}</td>
            </tr>
            <tr>
              <td>Go-live</td>
              <td class="num"><When :at="data.go_live" /></td>
            </tr>
          </tbody>
        </table>
        <p class="quiet">
          These figures are frozen as the promise. What is delivered is set against them; later changes do not
          touch them.
        </p>
        <el-input
          v-model="words"
          :rows="2"
          aria-label="Why, in a sentence"
          placeholder="Why, in a sentence"
          maxlength="1000"
          type="textarea"
        />
      </template>
      <Problem :error="back.error.value" />
    </Confirm>
  </span>
</template>
