#pragma once

#include <unistd.h>

#include <utility>

namespace lampo {

/// An open file of the operating system, closed when this ends. As any value, one thread at a time; movable.
class Descriptor {
public:
    /// Nothing open.
    Descriptor() = default;
    /// Takes what open() gave, also where that failed (below 0).
    explicit Descriptor(int number) : number_(number) {}
    /// The one moved from has nothing open.
    Descriptor(Descriptor&& other) noexcept : number_(std::exchange(other.number_, none)) {}
    /// Closes what was open here.
    Descriptor& operator=(Descriptor&& other) noexcept {
        Descriptor(std::move(other)).swap(*this);
        return *this;
    }
    ~Descriptor() { close(); }

    /// Whether one is open.
    explicit operator bool() const { return number_ >= 0; }
    /// For the system's calls; below 0 where nothing is open.
    int number() const { return number_; }
    /// Now; nothing is open any more.
    void close() {
        if (number_ >= 0)
            ::close(std::exchange(number_, none));
    }

private:
    static constexpr int none = -1;

    void swap(Descriptor& other) noexcept { std::swap(number_, other.number_); }

    int number_ = none;
};

} // namespace lampo
