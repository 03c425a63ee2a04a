/** Id of the sample session; its package is served beside the program. */
export const SAMPLE_ID = 'tide-mill'
