#include "edits/proof_edits.h"

#include "base/text.h"
#include "session/refusals.h"

#include <fmt/core.h>

namespace lampo {

Expected<void> apply(const ProofEdit& edit, Session& session) {
    if (edit.answers.empty())
        return refuse("Choose a place of the proof first");
    for (const ProofAnswer& answer : edit.answers) {
        std::erase_if(session.proofAnswers, [&](const ProofAnswer& said) {
            return said.kind == answer.kind && said.content == answer.content;
        });
        if (answer.state != ProofState::open)
            session.proofAnswers.push_back(answer);
    }
    return {};
}

std::string describe(const Session&, const ProofEdit& edit) {
    constexpr EnumNames<ProofState, ProofState::later> says{"Open {} again", "{} fine", "{} for later"};
    const std::string places = edit.answers.size() == 1 ? std::string(name(edit.answers.front().kind))
                                                        : counted(std::ssize(edit.answers), "place");
    const ProofState state = edit.answers.empty() ? ProofState::open : edit.answers.front().state;
    return "Proof: " + fmt::format(fmt::runtime(says.of(state)), places);
}

} // namespace lampo
