/** What sequencers call the track of the clock, or a file that nobody named: no piece is called so. */
const NO_TITLE =
  /^(track ?\d*|clock|tempo( ?(map|track))?|conductor( ?track)?|meters?|click( ?track)?|master( ?track)?|global|control|setup|untitled|new song|sequence ?\d*|midi ?\d*)$/i;

/** A name as the title of a piece; empty where no piece is called so. */
export const asTitle = (name: string): string => (NO_TITLE.test(name.trim()) ? '' : name);

/** A remark, and no name of anything: whose it is, where it comes from. */
const REMARK = /@|https?:|www\.|\(c\)|©|\bby\b|\bcopyright\b|[!?"]/i;

/** Whether a text is a remark that stands where a name should. */
export const isRemark = (name: string): boolean => REMARK.test(name);
