<script setup lang="ts">
import type { Working } from '@/api/client'
import { useRoute } from 'vue-router'
import { useMe } from '@/shared/session'
import { fieldPlace, wordsOf } from './fieldLink'
import { dayText, inUnit } from './format'

const SHEETS = ['case', 'sizing']
const props = defineProps<{ working: Working; inner?: boolean }>()
const { currency } = useMe()

const words = wordsOf
const shown = (value: string | null, unit: string): string => inUnit(value, unit, currency.value)
const partText = (value: string): string =>
  /^-?\d+\.\d+$/.test(value) ? shown(value, props.working.unit === 'money' ? 'money' : '') : value
const route = useRoute()
/** Another page, or the field of this idea that holds the input. */
function target(link: string) {
  if (link.startsWith('/')) return link
  return /^\/ideas\/\d+$/.test(route.path) && /^[a-z_]+$/.test(link) && !SHEETS.includes(link)
    ? fieldPlace(link)
    : null
}
</script>

<template>
  <div class="working" :class="{ inner }">
    <h2 v-if="!inner">{{ working.name }}</h2>
    <h3 v-else>{{ working.name }}</h3>
    <p class="outcome">{{ shown(working.outcome, working.unit) }}</p>
    <p v-if="working.formula" class="formula">{{ working.formula }}</p>
    <table v-if="working.parts.length" class="ledger">
      <tbody>
        <tr v-for="part in working.parts" :key="part.name">
          <td>
            {{ part.name }}
            <div v-if="part.note" class="quiet">{{ part.note }}</div>
          </td>
          <td class="num">{{ partText(part.value) }}</td>
        </tr>
        <tr v-if="working.unit === 'money' && working.parts.length > 1 && working.outcome" class="sum">
          <td>Together</td>
          <td class="num">{{ shown(working.outcome, working.unit) }}</td>
        </tr>
      </tbody>
    </table>
    <div v-if="working.inputs.length">
      <h3>Where it comes from</h3>
      <ul>
        <li v-for="input in working.inputs" :key="input.name">
          <router-link v-if="target(input.link)" :to="target(input.link)!">{{ input.name }}</router-link>
          <template v-else>{{ input.name }}</template>:
          <b :class="{ care: input.value === null }">{{ shown(input.value, input.unit) }}</b>
          <i v-if="input.source">
            {{ input.source }}<template v-if="input.date">, {{ dayText(input.date) }}</template></i
          >
        </li>
      </ul>
    </div>
    <p v-if="working.missing.length" class="note care">
      Missing:
      <template v-for="(name, n) in working.missing" :key="name"
        ><template v-if="n">, </template
        ><router-link v-if="target(name.split('[')[0] ?? '')" :to="target(name.split('[')[0] ?? '')!">{{
          words(name)
        }}</router-link
        ><template v-else>{{ words(name) }}</template></template
      >
    </p>
    <div v-if="working.swings.length">
      <h3>What would change it most</h3>
      <table class="ledger">
        <tbody>
          <tr v-for="swing in working.swings" :key="swing.name">
            <td>
              {{ swing.name }}
              <div class="quiet">{{ swing.note }}</div>
            </td>
            <td class="num">{{ partText(swing.low) }}<br />{{ partText(swing.high) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="working.note" class="quiet">{{ working.note }}</p>
    <WorkingView v-for="step in working.steps" :key="step.name" :working="step" inner />
  </div>
</template>

<style scoped>
.working {
  display: grid;
  gap: 10px;
}
.working.inner {
  border-top: 1px solid var(--hair-2);
  padding-top: 12px;
  margin-top: 4px;
}
.outcome {
  font: 600 22px/28px var(--title-face);
}
.inner .outcome {
  font-size: 16px;
  line-height: 22px;
}
.formula {
  font: italic 400 15px/22px var(--title-face);
}
ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
  font-size: 13px;
  color: var(--ink-2);
}
li b {
  color: var(--ink);
  font-weight: 600;
}
</style>
