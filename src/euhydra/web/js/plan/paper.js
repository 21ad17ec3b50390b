// Small things that several files of the plan share.

export const SVG = "http://www.w3.org/2000/svg";

/** A place on paper as a place in the garden, and back: paper has y downwards. */
export const north = ({ x, y }) => ({ x, y: -y });

/** Kept out of Alpine's tracking, which would wrap every part and outlet at every touch. */
export const untracked = (object) => Object.defineProperty(object, "__v_skip", { value: true });

/** One object of many, getters and all. */
export const composed = (...sets) => Object.defineProperties({}, Object.assign({}, ...sets.map(Object.getOwnPropertyDescriptors)));
