<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** One's second factor: set up with an app, kept with recovery codes, turned off. */
const props = defineProps<{ factor: Schemas['FactorOut'] }>()
const emit = defineEmits<{ kept: [] }>()
const enrolment = ref<Schemas['Enrolment'] | null>(null)
const codes = ref<string[]>([])
const code = ref('')
const wanted = ref<'codes' | 'off' | null>(null)
const begin = useAction(async () => {
  enrolment.value = await ask(api.POST('/api/v1/profile/second-factor'))
}, [])
const confirm = useAction(async () => {
  codes.value = (
    await ask(api.POST('/api/v1/profile/second-factor/confirm', { body: { code: code.value } }))
  ).codes
  enrolment.value = null
  code.value = ''
})
const prove = useAction(async () => {
  const body = { code: code.value }
  if (wanted.value === 'codes')
    codes.value = (await ask(api.POST('/api/v1/profile/second-factor/codes', { body }))).codes
  else {
    await ask(api.POST('/api/v1/profile/second-factor/off', { body }))
    codes.value = []
  }
  wanted.value = null
  code.value = ''
})
function haveKept() {
  codes.value = []
  emit('kept')
}
const saved = computed(() => `data:text/plain;charset=utf-8,${encodeURIComponent(codes.value.join('\n'))}`)
const asked = computed(() => props.factor.asked_by.join(' and '))
</script>

<template>
  <section class="stack tight">
    <h2>Second factor</h2>
    <div v-if="codes.length" class="note stack tight">
      <p><b>Recovery codes.</b> They are shown this once. Each opens the way in once, without the app.</p>
      <ul>
        <li v-for="one in codes" :key="one">{{ one }}</li>
      </ul>
      <p class="row">
        <a class="button" :href="saved" download="tallyman-recovery-codes.txt">Save them as a file</a>
        <el-button @click="haveKept">I have kept them</el-button>
      </p>
    </div>
    <template v-if="factor.on_since">
      <p>
        On since <When :at="factor.on_since" />; {{ factor.codes_left }} recovery codes are left.
        <template v-if="asked">The role {{ asked }} asks for it.</template>
      </p>
      <p v-if="!wanted" class="row">
        <el-button @click="wanted = 'codes'">New recovery codes</el-button>
        <el-button v-if="!asked" @click="wanted = 'off'">Turn it off</el-button>
      </p>
      <form v-else class="note row top" @submit.prevent="prove.go()">
        <Field
          v-slot="{ id }"
          :label="wanted === 'codes' ? 'A code, for new recovery codes' : 'A code, to turn it off'"
          help="from your app, or a recovery code"
          :fault="faultOf(prove.error.value, 'code')"
          ><el-input :id="id" v-model="code" autocomplete="one-time-code" required
        /></Field>
        <el-button class="low" :disabled="prove.busy.value" type="primary" native-type="submit"
          >{{ wanted === 'codes' ? 'Make new ones' : 'Turn it off' }}
        </el-button>
        <el-button class="low" @click="wanted = null">Cancel</el-button>
      </form>
      <Problem :error="prove.error.value" :fields="['code']" />
    </template>
    <template v-else-if="!enrolment">
      <p>
        Off. With it, a sign-in asks for a code from an app on your phone beside the password.
        <b v-if="asked">The role {{ asked }} asks for it.</b>
      </p>
      <p>
        <el-button :disabled="begin.busy.value" :type="asked ? 'primary' : undefined" @click="begin.go()"
          >Set it up</el-button
        >
      </p>
      <Problem :error="begin.error.value" />
    </template>
    <form v-else class="note sides" @submit.prevent="confirm.go()">
      <img :src="enrolment.picture" alt="The secret as a picture, to be scanned by an app for codes" />
      <div class="stack tight">
        <p>1. Scan the picture with an app for codes by time, or type this into it:</p>
        <p class="secret">{{ enrolment.secret.match(/.{1,4}/g)?.join(' ') }}</p>
        <Field v-slot="{ id }" label="2. The code that it shows" :fault="faultOf(confirm.error.value, 'code')"
          ><el-input :id="id" v-model="code" autocomplete="one-time-code" required
        /></Field>
        <Problem :error="confirm.error.value" :fields="['code']" />
        <p class="row">
          <el-button :disabled="confirm.busy.value" type="primary" native-type="submit">Turn it on</el-button>
          <el-button @click="enrolment = null">Cancel</el-button>
        </p>
      </div>
    </form>
  </section>
</template>

<style scoped>
.low {
  margin-top: 20px;
}
.sides {
  display: flex;
  gap: 20px;
  flex-wrap: wrap;
}
img {
  width: 180px;
  height: 180px;
  background: #fff;
}
.secret,
ul {
  font-variant-numeric: tabular-nums;
  letter-spacing: 0.04em;
}
ul {
  columns: 2;
  max-width: 320px;
  margin: 0;
  padding-left: 18px;
}
</style>
