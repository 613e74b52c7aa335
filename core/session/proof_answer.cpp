#include "session/proof_answer.h"

namespace lampo {

std::string_view name(ProofKind kind) {
    constexpr EnumNames<ProofKind, ProofKind::map> names{
        "doubled attack", "lost attack", "click", "dip",    "stutter",   "swallowed ring",  "flam", "wrong line",
        "loose",          "phase",       "level", "silent", "stretched", "lost correction", "map"};
    return names.of(kind);
}

} // namespace lampo
