<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import Problem from '@/shared/Problem.vue'
import EndedTriggers from './EndedTriggers.vue'
import TriggerHistory from './TriggerHistory.vue'
import { later } from '@/shared/later'

const TriggerForm = later(() => import('./TriggerForm.vue'))

/** Starts on the clock: each reads as a sentence, lists its next times, and tells its history. */
const props = defineProps<{
  routine: number
  triggers: Schemas['Trigger'][]
  ended: Schemas['EndedTrigger'][]
  needs: Schemas['Need'][]
  change: boolean
}>()
const adding = ref(false)
const changing = ref<number | null>(null)
const told = ref<number | null>(null)
const ending = ref<Schemas['Trigger'] | null>(null)
const end = useAction(async (trigger: number) => {
  const params = { path: { number: props.routine, trigger } }
  await ask(api.DELETE('/api/v1/routines/{number}/triggers/{trigger}', { params }))
  ending.value = null
})
const MISSED: Record<string, string> = {
  once: 'missed starts are made up for by one',
  all: 'each missed start is made up for',
  skip: 'missed starts are left out',
}
const rest = (one: Schemas['Trigger']): string =>
  [
    `${MISSED[one.missed]}${one.missed === 'skip' ? '' : `, up to ${one.missed_hours} h`}`,
    one.latest_minutes && `lapses when not begun within ${one.latest_minutes} min`,
  ]
    .filter(Boolean)
    .join('; ')
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>Starts on the clock</h2>
      <a v-if="triggers.length" :href="`/api/v1/routines/${routine}/starts.ics`" download
        >As a calendar file</a
      >
    </div>
    <p v-if="!triggers.length && !adding" class="quiet">
      {{ ended.length && !change ? 'None any more.' : 'None; nothing starts it on the clock.' }}
    </p>
    <table v-if="triggers.length" class="ledger stacks">
      <tbody>
        <template v-for="one in triggers" :key="one.id">
          <tr>
            <td class="whole">
              <b>{{ one.sentence }}</b>
              <div class="quiet">
                <template v-if="one.times.length"
                  >next, in {{ one.zone }}:
                  <template v-for="(time, n) in one.times" :key="time.at"
                    ><template v-if="n">; </template>{{ time.wall }}</template
                  ></template
                >
                <template v-else>it never starts again</template>
                <template v-if="one.form.expr">
                  · <code class="code">{{ one.form.expr }}</code></template
                >
              </div>
              <div class="quiet">{{ rest(one) }}</div>
              <div v-for="time in one.times.filter((each) => each.note)" :key="time.at" class="quiet">
                {{ time.wall }} {{ time.offset }}: {{ time.note }}
              </div>
            </td>
            <td class="num acts whole">
              <el-button
                :aria-expanded="told === one.id"
                link
                type="primary"
                @click="told = told === one.id ? null : one.id"
              >
                What became of it
              </el-button>
              <template v-if="change">
                <br /><el-button link type="primary" @click="changing = one.id">Change</el-button>
                <el-button link type="danger" @click="ending = one">End it</el-button>
              </template>
            </td>
          </tr>
          <tr v-if="changing === one.id">
            <td colspan="2">
              <TriggerForm :needs="needs" :routine="routine" :trigger="one" @leave="changing = null" />
            </td>
          </tr>
          <tr v-if="told === one.id">
            <td colspan="2"><TriggerHistory :routine="routine" :trigger="one.id" /></td>
          </tr>
        </template>
      </tbody>
    </table>
    <Confirm
      v-if="ending"
      :model-value="true"
      title="End this start"
      action="End it"
      :busy="end.busy.value"
      @update:model-value="ending = null"
      @yes="end.go(ending.id)"
    >
      <p>“{{ ending.sentence }}” starts nothing any more. What it started stays, with its history.</p>
      <Problem :error="end.error.value" />
    </Confirm>
    <TriggerForm v-if="adding" :needs="needs" :routine="routine" @leave="adding = false" />
    <p v-else-if="change"><el-button @click="adding = true">Add a start on the clock</el-button></p>
    <EndedTriggers v-if="ended.length" :routine="routine" :ended="ended" />
  </section>
</template>

<style scoped>
.acts :deep(.el-button),
.code {
  white-space: nowrap;
}
</style>
