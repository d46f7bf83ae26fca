// One component of several parts: spreading them would read their getters once, and for good.
export const mixed = (...parts) =>
  Object.defineProperties({}, Object.assign({}, ...parts.map(Object.getOwnPropertyDescriptors)));
