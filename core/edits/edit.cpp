#include "edits/edit.h"

#include "edits/overloaded.h"
#include "session/validate.h"

namespace lampo {

Expected<Session> edited(const Session& session, const Edit& edit) {
    Session next = session;
    const auto applied = std::visit(Overloaded{[&](const BringIn& e) -> Expected<void> {
                                                   next = *e.session;
                                                   return {};
                                               },
                                               [&](const auto& kind) { return apply(kind, next); }},
                                    edit);
    return applied.and_then([&] { return validate(next); }).map([&] { return std::move(next); });
}

std::string describe(const Session& session, const Edit& edit) {
    return std::visit(Overloaded{[](const BringIn& e) { return e.what; },
                                 [&](const auto& kind) { return describe(session, kind); }},
                      edit);
}

} // namespace lampo
