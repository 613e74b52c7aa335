#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace lampo::test {

/// A folder of its own, removed at the end.
class TempFolder {
public:
    TempFolder();
    ~TempFolder();
    TempFolder(const TempFolder&) = delete;
    TempFolder& operator=(const TempFolder&) = delete;

    const std::filesystem::path& path() const { return path_; }
    std::filesystem::path operator/(const std::string& name) const { return path_ / name; }

private:
    std::filesystem::path path_;
};

void writeBytes(const std::filesystem::path& file, const std::string& bytes);
std::string readBytes(const std::filesystem::path& file);
/// Names and contents of all files below, to show that nothing changed.
std::vector<std::pair<std::string, std::string>> contents(const std::filesystem::path& folder);

} // namespace lampo::test
