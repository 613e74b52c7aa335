#pragma once

#include <cstddef>
#include <cstdint>
#include <map>
#include <mutex>
#include <optional>

namespace lampo {

/// What was heard in proofs before, by the content of what it was heard of: the same need not be listened to again.
/// Any thread.
template <class Value>
class HeardBefore {
public:
    /// So many at most; when there are more, all is forgotten and heard again.
    explicit HeardBefore(std::size_t most = 200'000) : most_(most) {}

    /// None where it was not heard.
    std::optional<Value> of(std::uint64_t content) const {
        const std::scoped_lock lock(guard_);
        const auto found = known_.find(content);
        return found == known_.end() ? std::optional<Value>() : std::optional<Value>(std::in_place, found->second);
    }
    /// Takes the place of what was known.
    void add(std::uint64_t content, const Value& value) {
        const std::scoped_lock lock(guard_);
        if (known_.size() >= most_)
            known_.clear();
        known_.insert_or_assign(content, value);
    }

private:
    std::size_t most_;
    mutable std::mutex guard_;
    std::map<std::uint64_t, Value> known_;
};

} // namespace lampo
