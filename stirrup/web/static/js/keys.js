// Keys belong to a field while somebody types into it; a box to tick leaves them to the page.
export const isTyping = (event) => Boolean(event.target.matches?.("input:not([type=checkbox]), textarea, select"));
