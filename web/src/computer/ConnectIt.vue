<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { plural } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Problem from '@/shared/Problem.vue'
import { useUnsaved } from '@/shared/unsaved'
import When from '@/shared/When.vue'
import CodeNote from '@/shared/CodeNote.vue'
import type { CodeShown } from '@/shared/code'

/** How my computer is connected: seat, name, the line to type, and whether it is heard from. */
const props = defineProps<{ seats: Schemas['OwnSeats']; computer: Schemas['OwnComputerShown'] | null }>()
const name = ref('')
const code = ref<CodeShown | null>(null)
const connect = useAction(async () => {
  const made = await ask(api.POST('/api/v1/my-computer', { body: { name: name.value } }))
  code.value = { host: props.computer?.name ?? name.value, code: made.code, until: made.until }
})
useUnsaved('The name of this computer', () => !props.computer && !code.value && name.value !== '')
const seat = computed(() => {
  const { number, used, shared_by } = props.seats
  if (!number)
    return 'You have no attended seat, so no run can work on your computer. Whoever looks after robots gives one.'
  const shared = shared_by.length ? `, shared with ${shared_by.join(', ')}` : ''
  return `${number} attended ${plural(number, 'seat', 'seats')}${shared}; ${used} in use now.`
})
</script>

<template>
  <section class="stack tight">
    <h2>How it is connected</h2>
    <p>{{ seat }}</p>
    <p v-if="computer">
      <b>{{ computer.name }}</b>
      <template v-if="computer.revoked_at">: its token was revoked, so the server knows it no more.</template>
      <template v-else-if="!computer.connected">: not connected yet.</template>
      <template v-else>
        <Glyph :state="computer.silent ? 'silent' : 'heard'" />
        <span class="quiet">
          <template v-if="computer.heard_at">last heard <When :at="computer.heard_at" near /></template
          ><template v-if="computer.in_use_since"
            >; you use it since <When :at="computer.in_use_since" near
          /></template>
        </span>
      </template>
    </p>
    <CodeNote v-if="code" :code="code" own @leave="code = null" />
    <form v-else-if="seats.number" class="stack tight" @submit.prevent="connect.go()">
      <Field
        v-if="!computer"
        v-slot="{ id }"
        label="What is this computer called?"
        :fault="faultOf(connect.error.value, 'name')"
      >
        <el-input
          :id="id"
          v-model="name"
          maxlength="60"
          placeholder="such as Desk of Mei Tanaka"
          style="--chars: 30"
        />
      </Field>
      <p>
        <el-button
          :type="computer ? undefined : 'primary'"
          native-type="submit"
          :disabled="connect.busy.value"
          >{{ computer ? 'New code' : 'Connect it and show the code' }}</el-button
        >
      </p>
      <Problem :error="connect.error.value" :fields="['name']" />
    </form>
  </section>
</template>
