#pragma once

#include <algorithm>
#include <cstddef>
#include <initializer_list>
#include <iterator>
#include <memory>
#include <utility>
#include <vector>

namespace lampo {

/// A sequence of values whose copies share what they have in common: it lies in pieces of at most 64 values, and a
/// change makes anew only the pieces it falls into. For long lists of which many states are kept, as undo does.
/// Reads like a std::vector; copying and comparing copies cost a pointer for each piece. Indexing goes through the
/// pieces. References stay valid until the list is changed or destroyed.
template <class T>
class SharedList {
    using Piece = std::vector<T>;
    using Pieces = std::vector<std::shared_ptr<const Piece>>;

public:
    static constexpr std::size_t pieceSize = 64; ///< elements that copies share or change together

    using value_type = T; ///< of the elements
    /// Goes over all elements in order.
    class const_iterator {
    public:
        /// \cond of every iterator of the standard library
        using iterator_category = std::bidirectional_iterator_tag;
        using value_type = T;
        using difference_type = std::ptrdiff_t;
        using pointer = const T*;
        using reference = const T&;

        const_iterator() = default;
        reference operator*() const { return (*(*pieces_)[piece_])[place_]; }
        pointer operator->() const { return &**this; }
        const_iterator& operator++() {
            if (++place_ == (*pieces_)[piece_]->size()) {
                ++piece_;
                place_ = 0;
            }
            return *this;
        }
        const_iterator& operator--() {
            if (place_ == 0)
                place_ = (*pieces_)[--piece_]->size();
            --place_;
            return *this;
        }
        const_iterator operator++(int) { return std::exchange(*this, std::next(*this)); }
        const_iterator operator--(int) { return std::exchange(*this, std::prev(*this)); }
        bool operator==(const const_iterator& other) const = default;
        /// \endcond

    private:
        friend class SharedList;
        const_iterator(const Pieces& pieces, std::size_t piece, std::size_t place)
            : pieces_(&pieces), piece_(piece), place_(place) {}

        const Pieces* pieces_ = nullptr;
        std::size_t piece_ = 0, place_ = 0;
    };

    SharedList() = default;
    /// With these elements.
    SharedList(std::initializer_list<T> values) : SharedList(std::vector<T>(values)) {}
    /// With these elements.
    SharedList(std::vector<T> values) : size_(values.size()) {
        for (auto from = values.begin(); from != values.end();) {
            const auto to = from + std::min(values.end() - from, static_cast<std::ptrdiff_t>(pieceSize));
            pieces_.push_back(
                std::make_shared<const Piece>(std::make_move_iterator(from), std::make_move_iterator(to)));
            from = to;
        }
    }

    /// How many elements there are.
    std::size_t size() const { return size_; }
    /// Whether there is none.
    bool empty() const { return size_ == 0; }
    /// At the first element.
    const_iterator begin() const { return {pieces_, 0, 0}; }
    /// Behind the last element.
    const_iterator end() const { return {pieces_, pieces_.size(), 0}; }
    /// Of a list that is not empty.
    const T& front() const { return pieces_.front()->front(); }
    /// The last element; there must be one.
    const T& back() const { return pieces_.back()->back(); }
    /// index < size().
    const T& operator[](std::size_t index) const { return *find(index); }

    /// Appends an element.
    void push_back(T value) { insert(end(), std::move(value)); }
    /// Appends an element made of these parts.
    template <class... Parts>
    void emplace_back(Parts&&... parts) {
        push_back(T(std::forward<Parts>(parts)...));
    }

    /// Inserts an element in front of another, or at the end.
    void insert(const_iterator before, T value) {
        const bool atEnd = before.piece_ == pieces_.size();
        if (pieces_.empty() || (atEnd && pieces_.back()->size() == pieceSize)) {
            pieces_.push_back(std::make_shared<const Piece>(1, std::move(value)));
        } else {
            const std::size_t piece = atEnd ? pieces_.size() - 1 : before.piece_;
            Piece changed = *pieces_[piece];
            const std::size_t place = atEnd ? changed.size() : before.place_;
            changed.insert(changed.begin() + static_cast<std::ptrdiff_t>(place), std::move(value));
            replace(piece, std::move(changed));
        }
        ++size_;
    }

    /// index < size(). `change` is called with a T&.
    template <class Change>
    void change(std::size_t index, Change change) {
        const const_iterator at = find(index);
        Piece changed = *pieces_[at.piece_];
        change(changed[at.place_]);
        replace(at.piece_, std::move(changed));
    }
    /// `change` is called with a T& of each and says whether it changed it; it may change it only then.
    template <class Change>
    bool changeEach(Change change) {
        bool any = false;
        for (std::size_t piece = 0; piece < pieces_.size(); ++piece) {
            Piece changed = *pieces_[piece];
            if (std::count_if(changed.begin(), changed.end(), change) == 0)
                continue;
            replace(piece, std::move(changed));
            any = true;
        }
        return any;
    }
    /// Replaces an element.
    void set(std::size_t index, T value) {
        change(index, [&](T& old) { old = std::move(value); });
    }

    /// Takes out what the predicate is true of. Returns how many those were.
    template <class Predicate>
    std::size_t eraseIf(Predicate predicate) {
        const std::size_t before = size_;
        for (std::size_t piece = pieces_.size(); piece-- > 0;) {
            if (std::none_of(pieces_[piece]->begin(), pieces_[piece]->end(), predicate))
                continue;
            Piece changed = *pieces_[piece];
            size_ -= std::erase_if(changed, predicate);
            replace(piece, std::move(changed));
        }
        return before - size_;
    }

    /// Whether all elements are equal; parts that are shared need not be looked at.
    bool operator==(const SharedList& other) const {
        return size_ == other.size_ && (pieces_ == other.pieces_ || std::equal(begin(), end(), other.begin()));
    }

    /// Pieces that both have in common, of all of this one's: what a copy costs nothing for.
    std::pair<std::size_t, std::size_t> shared(const SharedList& other) const {
        const auto isThere = [&](const auto& piece) {
            return std::find(other.pieces_.begin(), other.pieces_.end(), piece) != other.pieces_.end();
        };
        return {static_cast<std::size_t>(std::count_if(pieces_.begin(), pieces_.end(), isThere)), pieces_.size()};
    }

private:
    const_iterator find(std::size_t index) const {
        std::size_t piece = 0;
        while (index >= pieces_[piece]->size())
            index -= pieces_[piece++]->size();
        return {pieces_, piece, index};
    }

    /// One that grew too long becomes two, one that became empty none.
    void replace(std::size_t piece, Piece changed) {
        const auto at = pieces_.begin() + static_cast<std::ptrdiff_t>(piece);
        if (changed.empty()) {
            pieces_.erase(at);
        } else if (changed.size() > pieceSize) {
            const auto middle = changed.begin() + static_cast<std::ptrdiff_t>(changed.size() / 2);
            const auto second = std::make_shared<const Piece>(middle, changed.end());
            changed.erase(middle, changed.end());
            *at = std::make_shared<const Piece>(std::move(changed));
            pieces_.insert(at + 1, second);
        } else {
            *at = std::make_shared<const Piece>(std::move(changed));
        }
    }

    Pieces pieces_; ///< none of them empty
    std::size_t size_ = 0;
};

} // namespace lampo
