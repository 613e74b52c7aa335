#pragma once

#include <filesystem>

namespace lampo {

class MainWindow;

/// Draws the main views of `window`, which has the demo open, into PNG files in `folder` and returns when done.
void takeShots(MainWindow& window, const std::filesystem::path& folder);

} // namespace lampo
