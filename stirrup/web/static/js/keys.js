// Whether somebody has changed the field that he is in: then its own undo comes first. An empty
// or unchanged field leaves Ctrl+Z to the page.
export const hasChanged = ({ target }) =>
  Boolean(target.matches?.("input:not([type=checkbox]), textarea")) &&
  target.value !== "" &&
  target.value !== (target.dataset.was ?? target.defaultValue);

// Keys belong to a field while somebody types into it; a box to tick leaves them to the page.
export const isTyping = (event) =>
  Boolean(event.target.matches?.("input:not([type=checkbox]), textarea, select"));
