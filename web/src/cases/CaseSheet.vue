<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ask, type Schemas, type Working } from '@/api/client'
import { useMe } from '@/shared/session'
import { fieldOf } from '@/shared/fieldLink'
import Figure from '@/shared/Figure.vue'
import { money, number, share } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import CaseBeside from './CaseBeside.vue'
import CaseLines from './CaseLines.vue'
import CaseMonths from './CaseMonths.vue'
import CasePdf from './CasePdf.vue'
import CaseTables from './CaseTables.vue'
import CaseYears from './CaseYears.vue'
import CaseVariants from './CaseVariants.vue'
import Conflict from '@/shared/Conflict.vue'
import FactField from './FactField.vue'
import Lacking from './Lacking.vue'
import { usePreview } from './usePreview'
import { useWantedField } from './useWantedField'
import { useFacts, type Fact } from './useFacts'

/** The business case: figures with their workings, year by year, and the inputs. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
const { currency } = useMe()
const query = useQuery({
  queryKey: ['ideas', 'case', () => props.idea.id],
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/case', { params: { path: { number: props.idea.id } } })),
})
const data = computed(() => query.data.value)
// While something is typed, the figures are those of what stands in the fields.
const figures = computed(() => preview.live.value?.figures ?? data.value?.figures)
const facts = useFacts(
  () => props.idea.id,
  () => data.value?.fields ?? [],
)
const fact = (field: string): Fact =>
  facts.find(field) ?? { field, label: field, source: '', date: '', own: false, value: null, version: 0 }
const locked = computed(() => !props.idea.may.size)
const showWanted = useWantedField()
watch(
  () => query.isSuccess.value,
  (there) => there && void showWanted(),
)
const working = (name: string): Working | undefined => data.value?.working[name]
/** What a figure that cannot be computed still needs: share and phases need all of the sizing but rework. */
function needs(name: string): Schemas['Lack'][] {
  const lacking = working(name)?.missing.map(fieldOf) ?? []
  const fromSizing = lacking.some((field) => ['phases', 'judged_share'].includes(field))
  return (data.value?.missing ?? []).filter(
    (lack) =>
      lacking.includes(lack.field) ||
      (fromSizing && lack.sheet === 'sizing' && !lack.field.startsWith('rework_')),
  )
}
const cash = (value: string | null | undefined): string => money(value, currency.value)

const preview = usePreview(() => props.idea.id)
function keep(field: string, now: string, seen?: number) {
  void facts.typedOver(field, now, seen).then(() => preview.left(field))
}
/** The chance that it pays back is drawn with the sizing, whose ranges it rests on. */
const sizing = useQuery({
  queryKey: ['ideas', 'sizing', () => props.idea.id],
  queryFn: () =>
    ask(api.GET('/api/v1/ideas/{number}/sizing', { params: { path: { number: props.idea.id } } })),
})
const chances = computed(() => (preview.live.value?.ranges ?? sizing.data.value?.ranges)?.chances ?? [])
const asks = computed(() => (preview.live.value?.ranges ?? sizing.data.value?.ranges)?.asks ?? [])
type Row = Record<string, string>
const file = (form: string): string => `/api/v1/ideas/${props.idea.id}/case/${form}`

const inputs = [
  ['robot_minutes', 'min'],
  ['robot_exception_share', ''],
  ['robot_exception_minutes', 'min'],
  ['cost_per_hour', 'an hour'],
  ['seat_kind', ''],
  ['seat_cost_per_year', 'a year'],
  ['hosting_per_robot', 'a robot'],
  ['other_software_per_year', 'a year'],
  ['support_share', 'a year'],
  ['one_time_other', 'once'],
  ['robot_hours_per_day', 'h'],
  ['robot_days_per_year', 'days'],
  ['discount_rate', 'a year'],
] as const
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && figures" class="stack">
      <div class="spread">
        <p class="quiet">
          {{
            preview.live.value ? 'As typed; kept when you leave the field.' : 'Each figure opens its working.'
          }}
        </p>
        <p class="row">
          Take it out:
          <a :href="file('xlsx')" download>workbook that reckons</a>
          <CasePdf :idea="idea.id" />
          <a :href="file('json')" :download="`case-I-${idea.id}.json`">JSON</a>
        </p>
      </div>
      <div v-if="asks.length" class="note care stack tight">
        <p v-for="one in asks" :key="one.field + one.words">
          {{ one.words }}
          <el-button link type="primary" @click="emit('supply', 'sizing', one.field)">Look at it</el-button>
        </p>
      </div>
      <div v-if="data.missing.length" class="note care">
        Not all figures can be computed. Missing:
        <template v-for="(lack, n) in data.missing" :key="lack.field"
          ><template v-if="n">, </template
          ><el-button class="lack" link type="primary" @click="emit('supply', lack.sheet, lack.field)"
            >{{ lack.label }}
          </el-button></template
        >
      </div>
      <div class="row figures">
        <Figure
          name="saving_per_year"
          label="Saved a year, once live"
          large
          :working="working('saving_per_year')"
          :text="cash(figures.saving_per_year)"
        >
          <template v-if="figures.cost_before">
            <Figure name="cost_before" :working="working('cost_before')" :text="cash(figures.cost_before)" />
            today,
            <Figure
              name="cost_after_people"
              :working="working('cost_after_people')"
              :text="cash(figures.cost_after_people)"
            />
            after
          </template>
          <Lacking
            v-if="figures.saving_per_year === null"
            :needs="needs('saving_per_year')"
            @supply="(...to) => emit('supply', ...to)"
          />
        </Figure>
        <Figure
          name="running_cost_per_year"
          label="Costs a year to run"
          large
          :working="working('running_cost_per_year')"
          :text="cash(figures.running_cost_per_year)"
        >
          <template v-if="figures.robots !== null">
            <Figure name="robots" :working="working('robots')" :text="String(figures.robots)" />
            {{ figures.robots === 1 ? 'robot' : 'robots' }}
          </template>
          <Lacking
            v-if="figures.running_cost_per_year === null"
            :needs="needs('running_cost_per_year')"
            @supply="(...to) => emit('supply', ...to)"
          />
        </Figure>
        <Figure
          name="payback_months"
          label="Paid back after"
          large
          :working="working('payback_months')"
          :text="
            figures.payback_months
              ? `${number(figures.payback_months, 1)} months`
              : figures.npv_3y
                ? 'not in 60 months'
                : '–'
          "
        >
          <template v-if="figures.payback_months">from the start of the plan<br /></template>
          <template v-if="figures.npv_3y && chances.length">
            <template v-for="(one, n) in chances" :key="one.months"
              >{{ n ? ', ' : '' }}within {{ one.months }} months in {{ share(one.share, 0) }}</template
            >
            of the draws
          </template>
          <Lacking
            v-if="figures.payback_months === null"
            :needs="needs('payback_months')"
            @supply="(...to) => emit('supply', ...to)"
          />
        </Figure>
        <Figure
          name="npv_3y"
          label="Worth over three years, NPV"
          large
          :working="working('npv_3y')"
          :text="cash(figures.npv_3y)"
        >
          <template v-if="figures.return_3y">
            at year ends, discounted; return
            <Figure
              name="return_3y"
              :working="working('return_3y')"
              :text="`${number(Number(figures.return_3y) * 100)} %`"
            />
          </template>
          <Lacking
            v-if="figures.npv_3y === null"
            :needs="needs('npv_3y')"
            @supply="(...to) => emit('supply', ...to)"
          />
        </Figure>
      </div>
      <CaseBeside :idea="idea" :data="data" />
      <CaseYears :data="data" :figures="figures" />
      <CaseMonths v-if="data.months" :idea="idea" :months="data.months" />
      <CaseVariants :idea="idea.id" />
      <Conflict
        v-if="facts.clash.value"
        :said="facts.clash.value.message"
        :rows="facts.rows.value"
        :names="facts.names.value"
        @settle="facts.settle"
      />
      <Problem :error="facts.error.value" />
      <section>
        <h2>What it is computed from</h2>
        <p class="quiet">
          Volume, minutes and shares come from the sizing; costs are rows of the cost tables unless you give
          this idea its own.
        </p>
        <div class="fields">
          <FactField
            v-for="[field, unit] in inputs"
            :key="field"
            :fact="fact(field)"
            :value="facts.value(field)"
            :fault="facts.faults[field] ?? preview.fault(field)"
            :unit="unit"
            :optional="field === 'seat_kind'"
            :kind="field === 'seat_kind' ? 'text' : undefined"
            :disabled="locked"
            @typing="(now) => preview.type(field, now)"
            @keep="(now, seen) => keep(field, now, seen)"
          />
          <FactField
            :fact="fact('costs_on')"
            :value="facts.value('costs_on')"
            :fault="facts.faults.costs_on"
            kind="date"
            :disabled="locked || data.promise !== null"
            @keep="(now) => keep('costs_on', now)"
          />
        </div>
        <p class="quiet">
          Robot hours a day come from the hosts' hours and days a year from the
          <router-link to="/house/calendar">calendar</router-link>, unless you give them here.
          <template v-if="data.promise">Once it is promised, today's rows of the cost tables count.</template>
        </p>
      </section>
      <section class="stack tight">
        <h2>Running lines</h2>
        <CaseLines
          :idea="idea.id"
          field="running_lines"
          :given="(facts.value('running_lines') || []) as Row[]"
          :reckoned="data.lines"
          :offers="data.offers"
          :disabled="locked"
          :fault="facts.faults.running_lines"
          :version="fact('running_lines').version"
          @keep="(now: Row[], seen?: number) => facts.typedOver('running_lines', now, seen)"
        />
      </section>
      <section class="stack tight">
        <div class="spread">
          <h2>Benefit lines, apart from time saved</h2>
          <p v-if="data.benefits.length">
            <Figure name="benefits" :working="working('benefits')" :text="cash(data.benefits_total)" /> a
            year, not in payback and NPV
          </p>
        </div>
        <CaseLines
          :idea="idea.id"
          field="benefit_lines"
          :given="(facts.value('benefit_lines') || []) as Row[]"
          :reckoned="data.benefits"
          :disabled="locked"
          :fault="facts.faults.benefit_lines"
          :version="fact('benefit_lines').version"
          @keep="(now: Row[], seen?: number) => facts.typedOver('benefit_lines', now, seen)"
        />
      </section>
      <section class="two">
        <FactField
          v-for="field in ['risk_note', 'strategy_note']"
          :key="field"
          :fact="fact(field)"
          :value="facts.value(field)"
          :fault="facts.faults[field]"
          optional
          kind="long"
          :disabled="locked"
          @keep="(now, seen) => facts.typedOver(field, now, seen)"
        />
      </section>
      <CaseTables :data="data" :locked="locked" @day="(day) => facts.keep('costs_on', day)" />
      <p class="quiet" role="status">
        {{
          facts.busy.value
            ? 'Keeping …'
            : locked
              ? 'You read this case; analysts and experts of its area change it from screening on.'
              : 'Each figure is kept when you leave its field.'
        }}
        Computed by {{ data.rules_version }}.
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.figures > * {
  max-width: 210px;
}
.figures {
  gap: 20px 36px;
  align-items: flex-start;
}
.gap {
  margin-top: 20px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 12px 20px;
  margin: 8px 0;
}
.lack {
  padding: 0;
}
</style>
