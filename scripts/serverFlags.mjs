/**
 * How the server is started. V8 compiles a function for speed ten times later than otherwise: the worker threads compile
 * each for themselves, and on two processors that takes as long as a hundred clients' reports. Garbage is collected by the
 * thread that made it: while reports are drawn, all processors are busy, and helpers cost more than they save.
 */
export const SERVER_FLAGS = ['--interrupt-budget=700000', '--single-threaded-gc'];

/** Threads share two arenas of the C library: each with one of its own would keep what the largest report once took (glibc). */
export const SERVER_ENV = { MALLOC_ARENA_MAX: '2' };
