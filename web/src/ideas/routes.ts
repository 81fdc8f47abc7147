/** Other remedies than a robot, as the rules name them. */
export const OTHER_ROUTES = ['changed procedure', 'training', 'change in a system', 'something else']
export const ROUTES = ['robot', ...OTHER_ROUTES]
/** Why an idea is declined. */
export const DECLINE_REASONS = [
  'too little volume',
  'about to change or end',
  'needs too much judgement',
  'already done elsewhere',
  'better mended another way',
]
