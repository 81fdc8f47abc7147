/** Other remedies than a robot, as the rules name them. */
export const OTHER_ROUTES = ['changed procedure', 'training', 'change in a system', 'something else']
export const ROUTES = ['robot', ...OTHER_ROUTES]
