<script setup lang="ts">
import { reactive } from 'vue'
import type { Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Problem from '@/shared/Problem.vue'
import { useSheet, type Line, type Sheet } from './useSheet'

/** What is wrong with a line, each cell mended in its place; a row that does not fit its head as its own text. */
const props = defineProps<{ sheet: Sheet; line: Line; out: boolean }>()
const { mend, asItCame, choose } = useSheet(() => props.sheet)
const typed = reactive<Record<string, string>>({})
type Fault = Schemas['LineFault']
const broken = (fault: Fault) => fault.field === 'row' && !!props.line.raw
const keyOf = (fault: Fault) => (broken(fault) ? 'raw' : String(fault.at))
const textOf = (fault: Fault) => typed[keyOf(fault)] ?? (broken(fault) ? props.line.raw : fault.cell)
/** A cell can be mended where its column is known, and once where it has several faults. */
const mendable = (fault: Fault, n: number) =>
  broken(fault) || (fault.at !== null && props.line.faults.findIndex((one) => one.at === fault.at) === n)
async function keep(fault: Fault) {
  const text = textOf(fault)
  if (text === (broken(fault) ? props.line.raw : fault.cell)) return
  const body = broken(fault) ? { raw: text, cells: {} } : { cells: { [String(fault.at)]: text } }
  const done = await mend.go(props.line.line, body)
  if (done) delete typed[keyOf(fault)]
}
</script>

<template>
  <div class="stack tight">
    <div v-for="(fault, n) in line.faults" :key="fault.field + fault.message" class="row fault">
      <span :class="out ? 'bad' : 'care'">
        <template v-if="fault.column && !broken(fault)">{{ fault.column }}</template>
        <template v-if="fault.value && !mendable(fault, n)"> “{{ fault.value }}”</template>
        {{ fault.message }}{{ out ? '' : '; comes in without it' }}
      </span>
      <el-input
        v-if="mendable(fault, n)"
        :model-value="textOf(fault)"
        :class="{ whole: broken(fault) }"
        :style="`--chars: ${broken(fault) ? 70 : 26}`"
        :aria-label="
          broken(fault) ? `Line ${line.line} as it stands` : `${fault.column} in line ${line.line}`
        "
        @update:model-value="(now: string) => (typed[keyOf(fault)] = now)"
        @change="keep(fault)"
      />
    </div>
    <p v-if="faultOf(mend.error.value, 'raw')" class="bad">{{ faultOf(mend.error.value, 'raw') }}</p>
    <p v-if="line.mended" class="row quiet">
      Mended here.
      <el-button size="small" @click="asItCame.go(line.line)">As it came</el-button>
    </p>
    <template v-if="line.differs.length && (line.state === 'conflict' || line.choice)">
      <table class="ledger differs">
        <thead>
          <tr>
            <th>It says otherwise</th>
            <th>in this line</th>
            <th>{{ line.idea ? `in I-${line.idea}` : 'in the line before' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in line.differs" :key="one.field">
            <td>{{ one.field }}</td>
            <td>{{ one.theirs }}</td>
            <td>{{ one.ours }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-if="line.state === 'conflict' || line.choice" class="row">
      <template v-if="!line.choice">
        <el-button @click="choose.go(line.line, 'same')">The same idea: leave it as it is</el-button>
        <el-button @click="choose.go(line.line, 'another')">Another idea: bring it in</el-button>
      </template>
      <template v-else-if="line.open || line.state !== 'in'">
        <span class="quiet">{{
          line.choice === 'same' ? 'You said: the same idea.' : 'You said: another idea.'
        }}</span>
        <el-button size="small" @click="choose.go(line.line, null)">Take back</el-button>
      </template>
    </p>
    <Problem :error="mend.error.value ?? asItCame.error.value ?? choose.error.value" :fields="['raw']" />
  </div>
</template>

<style scoped>
.fault {
  gap: 4px 10px;
}
.whole {
  flex-basis: 100%;
}
.differs {
  max-width: 640px;
}
</style>
