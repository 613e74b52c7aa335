#include "edits/spoken_of.h"

namespace lampo {

std::string micName(const Session& session, MicIndex mic) {
    return mic < session.mics.size() ? session.mics[mic].shownName() : "a mic";
}

std::string takeName(const Session& session, TakeIndex take) {
    return "take " + (take < session.takes.size() ? session.takes[take].letter.text() : "?");
}

std::string sectionName(const Session& session, std::size_t section) {
    return section < session.sections.size() ? session.sections[section].name : "a section";
}

} // namespace lampo
