<script setup lang="ts">
import { computed, ref } from 'vue'
import { useMe } from '@/shared/session'
import { api, ask, type Schemas } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { isPending, useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import JoinIdea from './JoinIdea.vue'
import { TAKES_IN } from '@/api/words'

/** Who joined an idea, and what is said about it. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const { me } = useMe()
const text = ref('')
const asked = ref<number | null>(null)
const editing = ref<number | null>(null)
const edited = ref('')
const joining = ref(false)
const path = computed(() => ({ number: props.idea.id }))
const say = useAction(async () => {
  const body = { text: text.value, mentions: asked.value ? [asked.value] : [] }
  await ask(api.POST('/api/v1/ideas/{number}/comments', { params: { path: path.value }, body }))
  text.value = ''
  asked.value = null
  unsent.done()
})
const change = useAction(async (comment: Schemas['Comment']) => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/comments/{comment}', {
      params: { path: { ...path.value, comment: comment.id } },
      body: { text: edited.value, mentions: comment.mentions },
    }),
  )
  editing.value = null
  rewritten.done()
})
const soon = useSoon()
const takeBack = (comment: number) =>
  soon('Your comment is taken back', `comment-${comment}`, (init) =>
    ask(
      api.DELETE('/api/v1/ideas/{number}/comments/{comment}', {
        params: { path: { ...path.value, comment } },
        ...init,
      }),
    ),
  )
const leave = useAction(() =>
  ask(api.DELETE('/api/v1/ideas/{number}/voice', { params: { path: path.value } })),
)
const mine = computed(() => props.idea.voices.some((one) => one.id === me.value?.id))
const takesIn = computed(() => TAKES_IN.includes(props.idea.stage))
function begin(comment: Schemas['Comment']) {
  editing.value = comment.id
  edited.value = comment.text
  rewritten.done()
}
const unsent = useDraft('What you say', () => `talk-${props.idea.id}`, { text, asked })
const rewritten = useDraft('Your comment', () => `talk-edit-${props.idea.id}`, { edited }, { open: editing })
</script>

<template>
  <div class="stack">
    <section class="stack tight">
      <div class="spread">
        <h2>Who wants it</h2>
        <el-button v-if="takesIn && me?.id !== idea.proposer_id && !mine && !joining" @click="joining = true">
          Join it
        </el-button>
      </div>
      <JoinIdea v-if="joining" :idea="idea.id" @done="joining = false" @leave="joining = false" />
      <p v-if="!idea.voices.length" class="quiet">
        {{ idea.proposer }} alone so far. Whoever does the same work can join with the volume of their own.
      </p>
      <table v-else class="ledger">
        <tbody>
          <tr v-for="one in idea.voices" :key="one.id">
            <td>
              <b>{{ one.name }}</b> {{ one.does_it ? 'does the same work' : 'supports it' }}
              <div v-if="one.note" class="quiet">{{ one.note }}</div>
            </td>
            <td class="num">
              <template v-if="one.volume">{{ one.volume.amount }} a {{ one.volume.rhythm }}</template>
            </td>
            <td class="num">
              <router-link v-if="one.from_idea_id" :to="`/ideas/${one.from_idea_id}`"
                >by I-{{ one.from_idea_id }}</router-link
              >
              <el-button
                v-if="one.id === me?.id"
                :disabled="leave.busy.value"
                link
                type="primary"
                @click="leave.go()"
              >
                Take my voice back
              </el-button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-for="one in idea.merged_in" :key="one.id" class="quiet">
        <router-link :to="`/ideas/${one.id}`">I-{{ one.id }} {{ one.title }}</router-link> by
        {{ one.proposer }} went into this one, <When :at="one.stage_since" />.
      </p>
    </section>
    <section class="stack tight">
      <h2>Talk</h2>
      <p v-if="!idea.comments.length" class="quiet">Nobody said anything yet.</p>
      <article v-for="one in idea.comments" :key="one.id" class="comment">
        <p class="quiet">
          <b>{{ one.person }}</b>, <When :at="one.at" /><template v-if="one.edited_at">, edited</template>
        </p>
        <p v-if="one.taken_back_at" class="quiet">taken back</p>
        <form v-else-if="editing === one.id" class="stack tight" @submit.prevent="change.go(one)">
          <el-input
            v-model="edited"
            :rows="3"
            maxlength="4000"
            :aria-label="`Comment of ${one.person}`"
            type="textarea"
          />
          <p class="row">
            <el-button :disabled="change.busy.value || !edited.trim()" type="primary" native-type="submit"
              >Keep it</el-button
            >
            <el-button @click="editing = null">Cancel</el-button>
          </p>
        </form>
        <template v-else>
          <p class="said" :class="{ quiet: isPending(`comment-${one.id}`) }">{{ one.text }}</p>
          <p v-if="one.mine" class="row">
            <el-button link type="primary" @click="begin(one)">Edit</el-button>
            <el-button
              :disabled="isPending(`comment-${one.id}`)"
              link
              type="primary"
              @click="takeBack(one.id)"
            >
              Take back
            </el-button>
          </p>
        </template>
      </article>
      <form class="stack tight" @submit.prevent="say.go()">
        <DraftNote :draft="unsent" />
        <Field v-slot="{ id }" label="Say something" :fault="faultOf(say.error.value, 'text')">
          <el-input :id="id" v-model="text" :rows="3" maxlength="4000" type="textarea" />
        </Field>
        <div class="row">
          <span class="quiet">and ask</span>
          <PersonField v-model="asked" label="Whom to ask" />
        </div>
        <p v-if="faultOf(say.error.value, 'mentions')" class="bad" role="alert">
          {{ faultOf(say.error.value, 'mentions') }}
        </p>
        <Problem
          :error="say.error.value ?? change.error.value ?? leave.error.value"
          :fields="['text', 'mentions']"
        />
        <p>
          <el-button :disabled="say.busy.value || !text.trim()" type="primary" native-type="submit"
            >Say it</el-button
          >
        </p>
      </form>
    </section>
  </div>
</template>

<style scoped>
.comment {
  border-bottom: 1px solid var(--hair);
  padding-bottom: 8px;
}
.said {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
