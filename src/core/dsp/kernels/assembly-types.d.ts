/** A place in a kernel's memory: the files that AssemblyScript compiles, too, use its name for it. */
type usize = number
