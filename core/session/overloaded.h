#pragma once

namespace lampo {

/// One visitor of several lambdas.
template <class... Fs>
struct Overloaded : Fs... {
    using Fs::operator()...;
};

} // namespace lampo
