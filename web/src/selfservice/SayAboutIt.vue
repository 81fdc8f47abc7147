<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, newKey, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Problem from '@/shared/Problem.vue'
import { useUnsaved } from '@/shared/unsaved'

/** Thanks, marks with a remark, and what would help: all of it reaches whoever looks after the page. */
const props = defineProps<{ page: Schemas['ServicePageView'] }>()
const path = () => ({ number: props.page.id })
const thank = useAction(() =>
  ask(api.POST('/api/v1/self-service/{number}/thanks', { params: { path: path() } })),
)
const open = ref<'marks' | 'wish' | null>(null)
const marks = ref(props.page.my_marks ?? 0)
const remark = ref(props.page.my_remark)
const wish = ref('')
const key = ref(newKey())
const became = ref<Schemas['Wished'] | null>(null)
useUnsaved(
  'What you say',
  () => open.value !== null && (wish.value !== '' || remark.value !== props.page.my_remark),
)
const rate = useAction(async () => {
  await ask(
    api.PUT('/api/v1/self-service/{number}/marks', {
      params: { path: path() },
      body: { marks: marks.value, remark: remark.value },
    }),
  )
  open.value = null
})
const say = useAction(async () => {
  became.value = await ask(
    api.POST('/api/v1/self-service/{number}/wishes', {
      params: { path: path(), header: { 'idempotency-key': key.value } },
      body: { text: wish.value },
    }),
  )
  key.value = newKey()
  wish.value = ''
  open.value = null
})
</script>

<template>
  <section class="stack tight">
    <h2>What do you say?</h2>
    <p class="quiet">
      {{ page.keeper }} reads it{{ page.idea_id ? ', and it counts for the idea behind it' : '' }}.
    </p>
    <div class="row">
      <el-button :disabled="page.thanked || thank.busy.value" @click="thank.go()">{{
        page.thanked ? 'You said thanks' : 'Say thanks'
      }}</el-button>
      <el-button :aria-expanded="open === 'marks'" @click="open = open === 'marks' ? null : 'marks'">{{
        page.my_marks ? `Your marks: ${page.my_marks} of 5` : 'Give it marks'
      }}</el-button>
      <el-button :aria-expanded="open === 'wish'" @click="open = open === 'wish' ? null : 'wish'"
        >It would help me if …</el-button
      >
    </div>
    <Problem :error="thank.error.value" />
    <form v-if="open === 'marks'" class="note stack tight" @submit.prevent="rate.go()">
      <Field v-slot="{ id }" label="Marks, 5 are the best" :fault="faultOf(rate.error.value, 'marks')">
        <el-radio-group :id="id" v-model="marks" aria-label="Marks, 5 are the best">
          <el-radio v-for="n in 5" :key="n" :value="n">{{ n }}</el-radio>
        </el-radio-group>
      </Field>
      <Field v-slot="{ id, invalid }" label="Why, if you like" :fault="faultOf(rate.error.value, 'remark')">
        <el-input
          :id="id"
          v-model="remark"
          type="textarea"
          :rows="3"
          :aria-invalid="invalid"
          style="--chars: 50"
        />
      </Field>
      <FormEnd
        action="Give these marks"
        :busy="rate.busy.value"
        :error="rate.error.value"
        :fields="['marks', 'remark']"
        :wait="marks ? '' : 'Choose how many marks.'"
        leave="Cancel"
        @leave="open = null"
      />
    </form>
    <form v-if="open === 'wish'" class="note stack tight" @submit.prevent="say.go()">
      <Field
        v-slot="{ id, invalid }"
        label="It would help me if …"
        help="it becomes an idea that changes this one, where there is one in service"
        :fault="faultOf(say.error.value, 'text')"
      >
        <el-input
          :id="id"
          v-model="wish"
          type="textarea"
          :rows="3"
          :aria-invalid="invalid"
          style="--chars: 50"
        />
      </Field>
      <FormEnd
        action="Send it"
        :busy="say.busy.value"
        :error="say.error.value"
        :fields="['text']"
        leave="Cancel"
        @leave="open = null"
      />
    </form>
    <p v-if="became" class="note" role="status">
      <template v-if="became.idea_id"
        >Thank you. It is
        <router-link :to="`/ideas/${became.idea_id}`">I-{{ became.idea_id }}</router-link>
        {{
          became.stage === 'draft'
            ? 'now, a draft of yours: a few more answers, and you can hand it in.'
            : 'now, handed in; you hear what becomes of it.'
        }}</template
      ><template v-else>Thank you. {{ page.keeper }} was told.</template>
    </p>
  </section>
</template>
