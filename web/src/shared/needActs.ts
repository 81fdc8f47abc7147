/** What mends a need, as the server names it, that a page can do in place. */
export const SET_UP = 'set up'
