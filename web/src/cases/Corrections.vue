<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { number, share, several } from '@/shared/format'

/** What delivered ideas say of these estimates: offered with the sample, taken only when somebody says so. */
type Correction = Schemas['CorrectionOut']
defineProps<{ corrections: Correction[]; disabled: boolean }>()
const emit = defineEmits<{ take: [correction: Correction] }>()
const write = (one: Correction, value: string): string =>
  one.what === 'share' ? share(value, 1) : number(value, 1)
const way = (factor: string): string => {
  const by = Math.round((Number(factor) - 1) * 100)
  return by === 0 ? 'came out as estimated' : by > 0 ? `came out ${by} % higher` : `came out ${-by} % lower`
}
</script>

<template>
  <section v-if="corrections.length" class="stack tight">
    <h2>What delivered ideas say of such estimates</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th>Estimate</th>
          <th>Delivered against estimated</th>
          <th class="num">Now</th>
          <th class="num">Corrected</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in corrections" :key="one.what">
          <td>{{ one.label }}</td>
          <td>
            {{ way(one.factor) }}
            <div class="quiet">
              middle of {{ several(one.sample, 'idea', 'ideas') }} ({{ one.of }}), from × {{ one.least }} to ×
              {{ one.most }}:
              <template v-for="(idea, n) in one.ideas" :key="idea"
                >{{ n ? ', ' : ''
                }}<router-link :to="`/ideas/${idea}?sheet=case`">I-{{ idea }}</router-link></template
              >
            </div>
          </td>
          <td class="num">{{ write(one, one.now) }}</td>
          <td class="num">{{ write(one, one.corrected) }}</td>
          <td class="num">
            <el-button v-if="!disabled" link type="primary" @click="emit('take', one)"
              >Take it over</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">
      Nothing is corrected by itself.
      {{ corrections.some((one) => one.sample < 3) ? 'Fewer than three ideas say little.' : '' }}
    </p>
  </section>
</template>
