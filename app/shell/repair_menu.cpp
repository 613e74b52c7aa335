#include "shell/repair_menu.h"

#include <QMenu>

namespace lampo {

void fillRepairMenu(const ActionMenu& where, SeamsPanel& repairs) {
    const auto tr = [](const char* text) { return QObject::tr(text); };
    StrokeRepairs& strokes = repairs.strokeRepairs();
    StretchRepairs& stretches = repairs.stretchRepairs();
    where.menu->addMenu(&repairs.repairMics());
    auto* only =
        where.actions.addSwitch(QStringLiteral("edit-only"), tr("Edit these mics onl&y"),
                                QKeySequence(tr("Ctrl+U")), false, [&strokes](bool on) { strokes.setOnly(on); });
    QObject::connect(&strokes, &StrokeRepairs::onlyChanged, only, &QAction::setChecked);
    where.menu->addAction(only);
    where.menu->addSeparator();
    where.add("replace-stroke", tr("&Replace the stroke, or try the next one"), tr("Ctrl+R"),
              [&strokes] { strokes.replaceByNext(); });
    where.add("hear-stroke", tr("&Hear it in its place"), tr("Ctrl+Shift+F9"),
              [&repairs] { repairs.strokes().hear(); });
    where.add("bring-together", tr("&Bring its drums together"), tr("Ctrl+B"),
              [&strokes] { strokes.bringTogether(); });
    where.add("patch-earlier", tr("What is replaced or shifted a frame &earlier"), tr("Ctrl+Alt+Left"),
              [&strokes] { strokes.shiftBy(FrameCount{-1}); });
    where.add("patch-later", tr("What is replaced or shifted a frame &later"), tr("Ctrl+Alt+Right"),
              [&strokes] { strokes.shiftBy(FrameCount{1}); });
    where.add("level-strokes", tr("Le&vel the chosen strokes"), tr("Ctrl+Shift+L"),
              [&strokes] { strokes.level(limits::strength.high, std::nullopt); });
    where.add("stroke-louder", tr("1 dB lo&uder"), tr("Ctrl+Shift+PgUp"), [&strokes] { strokes.makeLouder(1); });
    where.add("stroke-softer", tr("1 dB &softer"), tr("Ctrl+Shift+PgDown"), [&strokes] { strokes.makeLouder(-1); });
    where.menu->addSeparator();
    where.add("silence-stretch", tr("Silence the stre&tch in the ruler"), tr("Ctrl+Shift+Q"),
              [&stretches] { stretches.silence(); });
    where.add("silence-toms", tr("Silence to&ms outside their strokes"), {},
              [&stretches] { stretches.silenceToms(); });
    where.add("switch-silences", tr("Toms' sile&nces on or off"), {},
              [&stretches] { stretches.switchTomSilences(); });
    where.menu->addSeparator();
    where.add("switch-patches", tr("Patches of these hits on or o&ff"), tr("Ctrl+E"),
              [&strokes] { strokes.switchPatches(); });
    where.add("delete-patches", tr("&Delete the patches of these hits"), tr("Ctrl+Shift+Del"),
              [&strokes] { strokes.deletePatches(); });
}

} // namespace lampo
