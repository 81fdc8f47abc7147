<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { lasted } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'
import { pairs } from './pairs'

/** The segments and steps of a run, with what each was given and what came of it. */
type Step = Schemas['Step']
const props = defineProps<{ run: Schemas['RunWhole']; live: boolean; now: string }>()
/** A step that did not end was paused with its segment, is going on, or was cut short. */
const segmentOf = (step: Step) =>
  props.run.segments.find((one) => one.n === Math.floor((step.n - 1) / 1000) + 1)
const segmentEnd = (step: Step): string | null => segmentOf(step)?.ended_at ?? null
const stepState = (step: Step): string => {
  if (step.fault) return 'failed'
  if (step.ended_at) return 'done'
  if (segmentOf(step)?.ended_as === 'held') return 'held'
  return props.live ? 'running' : 'lost'
}
const stepWord = (step: Step): string =>
  ({ held: 'paused', lost: 'cut short' })[stepState(step)] ?? stepState(step)
/** What a step was given, and what came of it. */
function saidOf(step: { data_in?: unknown; data_out?: unknown }): string {
  const said = (value: unknown) =>
    pairs(value)
      .map(([name, one]) => `${name} ${one}`)
      .join('; ')
  const out = said(step.data_out)
  return [said(step.data_in), out && `→ ${out}`].filter(Boolean).join(' ')
}
</script>

<template>
  <section v-if="run.segments.length > 1 || run.state === 'held'">
    <h2>Segments</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="one in run.segments" :key="one.n">
          <td style="width: 110px"><Glyph :state="one.ended_as ?? 'running'" /></td>
          <td>Segment {{ one.n }}: {{ one.robot }} on {{ one.host }}</td>
          <td class="num">from <When :at="one.started_at" clock /></td>
          <td class="num">{{ lasted(one.started_at, one.ended_at, now) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
  <section v-if="run.steps.length">
    <h2>Steps</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="step in run.steps" :key="step.n">
          <td style="width: 110px">
            <Glyph :state="stepState(step)" :word="stepWord(step)" />
          </td>
          <td>
            {{ ((step.n - 1) % 1000) + 1 }} {{ step.name }}
            <div v-if="step.fault" class="quiet bad">{{ step.fault }}</div>
            <div class="quiet">
              {{ saidOf(step) }}
            </div>
          </td>
          <td class="num">
            {{
              lasted(
                step.started_at,
                step.ended_at ?? segmentEnd(step),
                live ? now : (run.ended_at ?? run.now),
              )
            }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
