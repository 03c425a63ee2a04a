/** Addresses of workers and worklets are the bundler's to give; tests that start none need none. */
export default ''
