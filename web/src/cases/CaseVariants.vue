<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import { money, number, share } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import { writeNumber } from '@/shared/number'
import NumberField from '@/shared/NumberField.vue'
import { kindOf } from './shares'
import { isPending, useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Variants of a case side by side, with what each says otherwise marked. */
const props = defineProps<{ idea: number }>()
const { currency } = useMe()
type Variant = Schemas['VariantOut']
const query = useQuery({
  queryKey: ['ideas', 'variants', () => props.idea],
  queryFn: () =>
    ask(api.GET('/api/v1/ideas/{number}/variants', { params: { path: { number: props.idea } } })),
})
const data = computed(() => query.data.value)
const figures = computed(() => data.value?.variants[0]?.figures ?? [])
const plain = (value: string | null): string =>
  value === null ? '–' : /^-?[\d.]+$/.test(value) ? number(value, 4) : value
function write(unit: string, value: string | null | undefined, said?: string): string {
  if (value === null || value === undefined) return said || '–'
  if (unit === 'money') return money(value, currency.value)
  if (unit === 'months') return `${number(value, 1)} months`
  return unit === 'share' ? share(value, 0) : value
}
const form = ref<{
  id: number | null
  version: number
  name: string
  changes: Record<string, string>
} | null>(null)
function begin(one?: Variant) {
  form.value = {
    id: one?.id ?? null,
    version: one?.version ?? 0,
    name: one?.id ? one.name : '',
    changes: { ...one?.changes },
  }
  unsent.done()
}
const keep = useAction(async () => {
  const now = form.value
  if (!now) return
  const body = { name: now.name, changes: now.changes, version: now.version }
  const params = { path: { number: props.idea } }
  if (now.id === null) await ask(api.POST('/api/v1/ideas/{number}/variants', { params, body }))
  else
    await ask(
      api.PUT('/api/v1/ideas/{number}/variants/{variant}', {
        params: { path: { number: props.idea, variant: now.id } },
        body,
      }),
    )
  unsent.done()
  form.value = null
})
const soon = useSoon()
const about = (variant: number | null) => `variant-${variant}`
const variants = computed(() => (data.value?.variants ?? []).filter((one) => !isPending(about(one.id))))
function drop(variant: number, name: string) {
  const params = { path: { number: props.idea, variant } }
  soon(`The variant “${name}” is taken away`, about(variant), (init) =>
    ask(api.DELETE('/api/v1/ideas/{number}/variants/{variant}', { params, ...init })),
  )
}
const fault = (field: string): string | undefined => faultOf(keep.error.value, field)
const unsent = useDraft('The variant', () => `variant-${props.idea}`, { form })
function leave() {
  form.value = null
  unsent.done()
}
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>Variants side by side</h2>
      <el-button v-if="data?.may_change && !form" @click="begin()">Make one of your own</el-button>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <p class="quiet">
          Cautious takes the end of each range that brings less, bold the other.
          <template v-if="data.no_range.length">
            No range is given for {{ data.no_range.join(', ').toLowerCase() }}; give the least and the most on
            the <router-link :to="{ query: { sheet: 'sizing', field: 'volume_low' } }">sizing</router-link>.
          </template>
        </p>
        <div class="wide">
          <table class="ledger">
            <thead>
              <tr>
                <th></th>
                <th v-for="one in variants" :key="one.name" class="num">{{ one.name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in data.differing" :key="row.field">
                <td class="quiet">{{ row.label }}</td>
                <td v-for="(value, n) in row.values" :key="n" class="num">
                  <template v-if="value !== row.values[0]"
                    >≠ <b>{{ plain(value) }}</b></template
                  ><template v-else>{{ plain(value) }}</template>
                </td>
              </tr>
              <tr v-for="(figure, m) in figures" :key="figure.name" :class="{ sum: m === 0 }">
                <td>{{ figure.label }}</td>
                <td v-for="one in variants" :key="one.name" class="num">
                  {{ write(figure.unit, one.figures[m]?.value, one.figures[m]?.said) }}
                </td>
              </tr>
              <tr v-for="n in 3" :key="n">
                <td>Net in year {{ n }}</td>
                <td v-for="one in variants" :key="one.name" class="num">
                  {{ write('money', one.net?.[n - 1]) }}
                </td>
              </tr>
              <tr v-if="data.may_change && variants.some((one) => one.id)">
                <td></td>
                <td v-for="one in variants" :key="one.name" class="num">
                  <template v-if="one.id">
                    <el-button link type="primary" @click="begin(one)">Change</el-button>
                    <el-button
                      :aria-label="`Take away ${one.name}`"
                      link
                      type="primary"
                      @click="drop(one.id, one.name)"
                    >
                      Take away
                    </el-button>
                  </template>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <form v-if="form" class="note stack tight" @submit.prevent="keep.go()">
          <DraftNote :draft="unsent" />
          <div class="row">
            <label for="variant-name">Name</label>
            <el-input id="variant-name" v-model="form.name" style="--chars: 28" maxlength="60" />
            <span class="bad">{{ fault('name') }}</span>
          </div>
          <p class="quiet">Say otherwise what should differ; an empty field stays as sized.</p>
          <div class="inputs">
            <label v-for="one in data.inputs" :key="one.field">
              {{ one.label }}
              <NumberField
                v-model="form.changes[one.field]"
                :kind="kindOf(one.field)"
                :chars="10"
                :placeholder="writeNumber(one.value, kindOf(one.field))"
                :invalid="Boolean(fault(one.field))"
              />
              <span class="bad">{{ fault(one.field) }}</span>
            </label>
          </div>
          <p class="row">
            <el-button :disabled="keep.busy.value" type="primary" native-type="submit"
              >Keep the variant</el-button
            >
            <el-button @click="leave">Cancel</el-button>
          </p>
          <Problem :error="keep.error.value" :fields="['name', ...data.inputs.map((one) => one.field)]" />
        </form>
      </template>
    </Loaded>
  </section>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
.inputs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px 20px;
}
.inputs label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
