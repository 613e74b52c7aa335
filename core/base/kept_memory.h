#pragma once

namespace lampo {

/// For a program that computes the whole edit anew at every step of a slider: up to 128 MB of what was freed are
/// kept for the next step, instead of being handed back and asked for again page by page. Once, before other
/// threads. Does nothing where the C library is not glibc.
void keepFreedMemory();

} // namespace lampo
