/** What ends servers in the middle, or goes through everything: for the whole run, not for the quick lane of every day. */
export const slowly = (skip: string | false | undefined = false) => ({
  skip: process.env.QUICK === '1' ? 'not in the quick lane' : skip,
});
