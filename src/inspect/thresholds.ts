/**
 * Numbers that rules compare with, each in this one place. Where no source is named, it is Wembra's own proposal, from
 * what practitioners hold to be the edge of trouble.
 */

/** Comparisons of px allow this much: half a CSS pixel, which is what the geometry claims. */
export const TOLERANCE_PX = 0.5
/** Least contrast of text with what lies behind it: WCAG 2.2, success criterion 1.4.3 (AA). */
export const LEAST_CONTRAST = 4.5
/** A header that takes more of the screen's height than this share leaves too little of the page. */
export const HEADER_SHARE = 0.25
/** Least width of a column of text, in rem: about 30 characters a line. */
export const LEAST_COLUMN_REM = 17
/** Least width of one of several columns side by side, in rem: room for a long word. */
export const LEAST_PART_REM = 8
/** The same where it holds `MANY_WORDS` or more. */
export const LEAST_WORDY_PART_REM = 15
export const MANY_WORDS = 20
/** Side padding that takes more than this share of the widest viewport does a width's work. */
export const PADDING_SHARE = 0.2
/** Content widths nearer to each other than this are meant to be one. */
export const NEARLY_SAME = 0.05
/** Comments are out of line when their width differs by more than this share of the column. */
export const COMMENTS_SHARE = 0.1
/** A thing removed from a page only by its builder is odd when this share of its kind's other pages show it. */
export const SHOWN_BY_MOST = 0.5
/** Templates are copies when they have this many settings or more, and differ in at most so many. */
export const COPY_SETTINGS = 4
export const COPY_DIFFERENCES = 2
/** The same override on this share of a kind's pages, and on so many at least, is no exception. */
export const REPEATED_SHARE = 0.6
export const REPEATED_PAGES = 3
/** A page is odd when this share of the pages of its kind and parent, and so many at least, have another value. */
export const ODD_SHARE = 0.8
export const ODD_PAGES = 5
