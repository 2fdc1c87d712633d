/** Words for the person at the terminal: on standard error, so that standard output stays for results. */
export const say = (...words) => console.error(...words);
