/** What a promise holds of a case, in the order in which it is read. */
export const PROMISED = [
  ['saving_per_year', 'Saved a year, once live'],
  ['running_cost_per_year', 'Costs a year, to run'],
  ['one_time_cost', 'Costs once, to build'],
  ['npv_3y', 'Worth over three years, NPV'],
  ['payback_months', 'Paid back after'],
  ['robots', 'Robots'],
] as const
