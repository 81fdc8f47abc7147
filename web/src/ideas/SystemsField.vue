<script setup lang="ts">
import { ref, watch } from 'vue'

interface System {
  name: string
  access: string
}

/** The systems that the work touches, each with how a robot reaches it. */
const props = defineProps<{ value: System[]; disabled?: boolean; fault?: string }>()
const emit = defineEmits<{ keep: [value: System[]] }>()
const ACCESS = ['API', 'web', 'desktop', 'remote screen', 'paper or image']
const rows = ref<System[]>([])
const copy = (given: System[]): System[] => given.map((row) => ({ ...row }))
watch(
  () => JSON.stringify(props.value),
  () => (rows.value = copy(props.value)),
  { immediate: true },
)
function send() {
  const whole = rows.value.filter((row) => row.name.trim() && row.access)
  if (whole.length === rows.value.length) emit('keep', copy(whole))
}
function drop(index: number) {
  rows.value.splice(index, 1)
  send()
}
</script>

<template>
  <div class="stack tight" data-field="systems">
    <div v-for="(row, n) in rows" :key="n" class="row">
      <input
        v-model="row.name"
        type="text"
        size="18"
        :aria-label="`System ${n + 1}`"
        placeholder="Name"
        :disabled="disabled"
        @change="send"
      />
      <select
        v-model="row.access"
        :aria-label="`Access to system ${n + 1}`"
        :disabled="disabled"
        @change="send"
      >
        <option value="">by …</option>
        <option v-for="one in ACCESS" :key="one">{{ one }}</option>
      </select>
      <button v-if="!disabled" class="plain" :aria-label="`Take off system ${n + 1}`" @click="drop(n)">
        Take off
      </button>
    </div>
    <p v-if="!rows.length" class="quiet">missing</p>
    <p v-if="!disabled"><button @click="rows.push({ name: '', access: '' })">Add a system</button></p>
    <p v-if="fault" class="bad" role="alert">{{ fault }}</p>
  </div>
</template>
