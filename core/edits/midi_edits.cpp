#include "edits/midi_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "session/refusals.h"

#include <fmt/core.h>

namespace lampo {

Expected<void> apply(const MidiEdit& edit, Session& session) {
    return std::visit(Overloaded{[&](const SetMidiKey& e) -> Expected<void> {
                                     if (!session.micNamed(e.mic))
                                         return refuse(fmt::format("There is no mic {}", visible(e.mic)));
                                     if (e.key)
                                         session.midi.keys[e.mic] = *e.key;
                                     else
                                         session.midi.keys.erase(e.mic);
                                     return {};
                                 },
                                 [&](const SetVelocityCurve& e) -> Expected<void> {
                                     session.midi.curve = e.curve;
                                     return {};
                                 }},
                      edit);
}

std::string describe(const Session&, const MidiEdit& edit) {
    return std::visit(Overloaded{[](const SetMidiKey& e) {
                                     return e.key ? fmt::format("Key {} for {}", *e.key, visible(e.mic))
                                                  : fmt::format("The usual key for {}", visible(e.mic));
                                 },
                                 [](const SetVelocityCurve& e) {
                                     return fmt::format("Velocity {} at a strong hit, bend {}",
                                                        trimmedNumber(e.curve.strong, 0),
                                                        trimmedNumber(e.curve.bend, 2));
                                 }},
                      edit);
}

} // namespace lampo
