<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/app/session'
import { useAction } from '@/shared/action'
import Figure from '@/shared/Figure.vue'
import { dayText, number, share } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import Clash from './Clash.vue'
import FactField from './FactField.vue'
import QuestionField from './QuestionField.vue'
import { RHYTHMS, type Question } from './questions'
import PeaksField from './PeaksField.vue'
import SizingRanges from './SizingRanges.vue'
import SystemsField from './SystemsField.vue'
import { useWantedField } from './useWantedField'
import { useFacts, type Fact } from './useFacts'

/** Sizing: the expert's facts, what follows from them, and a second person's agreement. */
const props = defineProps<{ idea: Schemas['Idea'] }>()
const { me, currency } = useMe()
const query = useQuery({
  queryKey: ['ideas', 'sizing', () => props.idea.id],
  queryFn: () =>
    ask(api.GET('/api/v1/ideas/{number}/sizing', { params: { path: { number: props.idea.id } } })),
})
const sizing = computed(() => query.data.value)
const results = computed(() => sizing.value?.results)
const facts = useFacts(
  () => props.idea.id,
  () => sizing.value?.fields ?? [],
)
const fact = (field: string): Fact =>
  facts.find(field) ?? { field, label: field, source: '', date: '', own: false, version: 0 }
const locked = computed(() => !props.idea.may.size)
const showWanted = useWantedField()
watch(
  () => query.isSuccess.value,
  (there) => there && void showWanted(),
)

const peaks = computed(() => (facts.value('peaks') || null) as string[] | null)
const optional: string[] = [
  'volume_low',
  'volume_high',
  'share_low',
  'share_high',
  'effort_low',
  'effort_high',
  'minutes_low',
  'minutes_high',
  'people',
  'hours_a_week',
  'share_override',
  'share_reason',
]
const groups = [
  {
    name: 'How much',
    fields: [
      ['volume_low', 'items'],
      ['volume', 'items'],
      ['volume_high', 'items'],
      ['rhythm', ''],
      ['minutes_low', 'min'],
      ['handling_minutes', 'min'],
      ['minutes_high', 'min'],
      ['people', ''],
      ['hours_a_week', 'h'],
    ],
  },
  {
    name: 'How it goes',
    fields: [
      ['judged_share', ''],
      ['unsuitable_share', ''],
      ['rework_share', ''],
      ['rework_minutes', 'min'],
    ],
  },
  {
    name: 'What it touches',
    fields: [
      ['steps', ''],
      ['decisions', ''],
      ['variants', ''],
      ['languages', ''],
      ['reused_parts', ''],
    ],
  },
  {
    name: 'How sure it is',
    fields: [
      ['share_low', ''],
      ['share_high', ''],
      ['effort_low', 'days'],
      ['effort_high', 'days'],
    ],
  },
] as const

const arrives = computed<Question | undefined>(() =>
  props.idea.answers.find((answer) => answer.key === 'arrives'),
)
const kinds = ref<unknown>(undefined)
const note = ref('')
const sendingBack = ref(false)
const path = computed(() => ({ params: { path: { number: props.idea.id } } }))
const offer = useAction(() => ask(api.POST('/api/v1/ideas/{number}/sizing/offer', path.value)))
const settle = useAction(async (agreed: boolean) => {
  await ask(
    api.POST('/api/v1/ideas/{number}/sizing/settle', { ...path.value, body: { agreed, note: note.value } }),
  )
  sendingBack.value = false
})
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="sizing && results" class="stack">
      <div class="row figures">
        <Figure
          name="volume"
          label="Volume a year"
          large
          :working="results.working.volume"
          :text="number(results.volume_per_year)"
        >
          {{
            results.hours_per_year
              ? `${number(results.hours_per_year)} h by hand`
              : 'hours need volume and minutes'
          }}
        </Figure>
        <Figure
          name="share"
          label="Automatable share"
          large
          :working="results.working.share"
          :text="share(results.automatable_share, 1)"
        >
          <template v-if="results.computed_share !== results.automatable_share">
            by judgement; computed {{ share(results.computed_share, 1) }}:
            {{ facts.value('share_reason') || 'no reason given' }}
          </template>
        </Figure>
        <Figure
          name="effort"
          label="Build effort"
          large
          :working="results.working.effort"
          :text="results.effort_days ? `${number(results.effort_days, 1)} days` : '–'"
        >
          {{
            results.band ??
            'missing: ' + (results.working.effort?.missing ?? []).join(', ').replaceAll('_', ' ')
          }}
        </Figure>
      </div>
      <p v-if="results.missing.length" class="note care">
        Missing:
        <template v-for="(lack, n) in results.missing" :key="lack.field"
          ><template v-if="n">, </template
          ><router-link :to="{ query: { sheet: 'sizing', field: lack.field } }">{{
            lack.label
          }}</router-link></template
        >
      </p>
      <div v-if="sizing.ranges.asks.length" class="note care stack tight">
        <p v-for="one in sizing.ranges.asks" :key="one.field + one.words">
          {{ one.words }}
          <router-link :to="{ query: { sheet: 'sizing', field: one.field } }">Look at it</router-link>
        </p>
      </div>
      <SizingRanges :ranges="sizing.ranges" :currency="currency" />
      <div class="agreement note">
        <p>
          <template v-if="sizing.state === 'agreed'">
            Sized by {{ sizing.sized_by }}, agreed by {{ sizing.agreed_by }} on
            <When :at="sizing.agreed_at" day />.
          </template>
          <template v-else-if="sizing.state === 'offered'">
            {{ sizing.sized_by }} asks for agreement<template v-if="me?.name === sizing.sized_by"
              >; somebody else gives it</template
            >.
          </template>
          <template v-else-if="sizing.state === 'sent back'">Sent back: {{ sizing.note }}</template>
          <template v-else>Open: fill in the facts, then ask somebody else to agree.</template>
        </p>
        <div v-if="idea.may.agree" class="row">
          <button class="filled" :disabled="settle.busy.value" @click="settle.go(true)">
            Agree to the sizing
          </button>
          <button v-if="!sendingBack" @click="sendingBack = true">Send back</button>
          <template v-else>
            <input
              v-model="note"
              type="text"
              size="36"
              aria-label="What should be looked at again?"
              placeholder="What should be looked at again?"
            />
            <button @click="settle.go(false)">Send it back</button>
          </template>
        </div>
        <div v-if="idea.may.size && idea.stage === 'screened' && sizing.state !== 'offered'" class="row">
          <button
            class="filled"
            :disabled="results.missing.length > 0 || offer.busy.value"
            @click="offer.go()"
          >
            Ask for agreement
          </button>
          <span v-if="results.missing.length" class="quiet">The missing facts come first.</span>
        </div>
        <Problem :error="settle.error.value ?? offer.error.value" />
      </div>
      <Clash :clash="facts.clash.value" @settle="facts.settle" />
      <Problem :error="facts.error.value" />
      <section v-for="group in groups" :key="group.name">
        <h2>{{ group.name }}</h2>
        <div class="fields">
          <FactField
            v-for="[field, unit] in group.fields"
            :key="field"
            :fact="fact(field)"
            :value="facts.value(field)"
            :fault="facts.faults[field]"
            :unit="unit"
            :disabled="locked"
            :optional="optional.includes(field)"
            :kind="field === 'rhythm' ? 'choice' : undefined"
            :choices="RHYTHMS"
            @keep="(now) => facts.keep(field, now)"
          />
        </div>
      </section>
      <section>
        <h2>How the year goes</h2>
        <PeaksField
          :value="peaks"
          :months="sizing.ranges.months"
          :disabled="locked"
          :fault="facts.faults.peaks"
          @keep="(now: string[] | null) => facts.keep('peaks', now)"
        />
      </section>
      <section class="two">
        <div class="stack tight">
          <h2>Systems it touches</h2>
          <SystemsField
            :value="(facts.value('systems') || []) as { name: string; access: string }[]"
            :disabled="locked"
            :fault="facts.faults.systems"
            @keep="(now) => facts.keep('systems', now)"
          />
        </div>
        <div class="stack tight">
          <h2>What it arrives as, by parts</h2>
          <template v-if="locked || kinds === undefined">
            <p>
              {{
                ((facts.value('arrives') || []) as { kind: string; part: string }[])
                  .map((row) => `${row.kind} (${row.part})`)
                  .join(', ') || 'missing'
              }}
            </p>
            <p class="quiet">
              {{ fact('arrives').source
              }}<template v-if="fact('arrives').date">, {{ dayText(fact('arrives').date) }}</template>
            </p>
            <p v-if="!locked">
              <button data-field="arrives" @click="kinds = facts.value('arrives') || null">
                Change the parts
              </button>
            </p>
          </template>
          <template v-else-if="arrives">
            <QuestionField v-model="kinds" :question="arrives" :fault="facts.faults.arrives" />
            <p class="row">
              <button class="filled" @click="facts.keep('arrives', kinds).then(() => (kinds = undefined))">
                Keep the parts
              </button>
              <button @click="kinds = undefined">Leave them</button>
            </p>
          </template>
          <h2>Share by judgement</h2>
          <div class="fields">
            <FactField
              :fact="fact('share_override')"
              optional
              :value="facts.value('share_override')"
              :fault="facts.faults.share_override"
              :disabled="locked"
              @keep="(now) => facts.keep('share_override', now)"
            />
            <FactField
              :fact="fact('share_reason')"
              optional
              :value="facts.value('share_reason')"
              :fault="facts.faults.share_reason"
              kind="text"
              :disabled="locked"
              @keep="(now) => facts.keep('share_reason', now)"
            />
          </div>
        </div>
      </section>
      <p class="quiet" role="status">
        {{
          facts.busy.value
            ? 'Keeping …'
            : locked
              ? 'You read this sheet; analysts and experts change it while it is open.'
              : 'Each fact is kept when you leave its field.'
        }}
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.figures {
  gap: 48px;
  align-items: flex-start;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px 20px;
  margin-top: 8px;
}
.agreement {
  display: grid;
  gap: 8px;
}
</style>
