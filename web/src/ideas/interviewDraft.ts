import type { Schemas } from '@/api/client'

export interface DraftQuestion {
  key: string
  text: string
  help: string
  needed: boolean
  kind: string
  standard: boolean
  choices: string[]
}
export interface InterviewDraft {
  title: string
  about: string
  offered: boolean
  steps: { title: string; questions: DraftQuestion[] }[]
  left_out: DraftQuestion[]
}

/** An interview as the editor changes it. */
export function copied(found: Schemas['InterviewOut']): InterviewDraft {
  return {
    title: found.title,
    about: found.about,
    offered: found.offered,
    steps: found.steps.map((step) => ({
      title: step.title,
      questions: step.questions.map((question) => ({ ...question, choices: [...question.choices] })),
    })),
    left_out: found.left_out.map((one) => ({
      ...one,
      needed: false,
      kind: one.key === 'files' ? 'files' : '',
      standard: true,
      choices: [],
    })),
  }
}

/** A new interview, begun as a copy of another. */
export function emptyInterview(like: Schemas['InterviewOut'] | undefined): InterviewDraft {
  const begun = like ? copied(like) : { steps: [], left_out: [] }
  return { ...begun, title: '', about: '', offered: false }
}

/** As it goes to the server: standard questions by their key, own ones with how they are answered. */
export function sent(draft: InterviewDraft) {
  return {
    title: draft.title,
    about: draft.about,
    offered: draft.offered,
    steps: draft.steps.map((step) => ({
      title: step.title,
      questions: step.questions.map((question) => ({
        key: question.key,
        text: question.text,
        help: question.help,
        needed: question.needed,
        kind: question.standard ? '' : question.kind,
        choices: question.standard ? [] : question.choices,
      })),
    })),
  }
}

/** A key for a question of one's own that is not taken. */
export function ownKey(taken: string[]): string {
  let n = 1
  while (taken.includes(`own-${n}`)) n += 1
  return `own-${n}`
}
