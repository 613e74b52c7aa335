#include <QtTest>

#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <sstream>

namespace {

using Names = std::set<std::string>;

struct Layer {
    std::string name;
    Names uses;
};

/// As CMake declares them, in the order of their making.
std::vector<Layer> declaredLayers(std::istream& lines) {
    std::vector<Layer> layers;
    for (std::string line; std::getline(lines, line);) {
        const std::size_t colon = line.find(':');
        Layer layer{line.substr(0, colon), {}};
        std::istringstream names(line.substr(colon + 1));
        for (std::string name; names >> name;)
            layer.uses.insert(name);
        layers.push_back(std::move(layer));
    }
    return layers;
}

struct Includes {
    Names layers;
    bool qt = false;
};

Includes includesOf(std::istream& source) {
    static const std::regex ours{R"rx(^#include "(\w+)/.*)rx"}, qts{R"(^#include <Q\w+.*)"};
    Includes found;
    std::smatch match;
    for (std::string line; std::getline(source, line);)
        if (std::regex_match(line, match, ours))
            found.layers.insert(match[1]);
        else if (std::regex_match(line, qts))
            found.qt = true;
    return found;
}

Includes includesOfFolder(const std::filesystem::path& folder) {
    Includes all;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(folder)) {
        if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp")
            continue;
        std::ifstream file(entry.path());
        const Includes found = includesOf(file);
        all.layers.insert(found.layers.begin(), found.layers.end());
        all.qt = all.qt || found.qt;
    }
    all.layers.erase(folder.filename().string());
    return all;
}

/// Types that a header defines for all: one name for two of them would be undefined behaviour wherever both are
/// linked.
std::vector<std::string> typesDefinedIn(std::istream& header) {
    static const std::regex definition{R"(^(?:struct|class|enum class) (\w+)(?: final)?(?: :.*)? \{.*)"};
    std::vector<std::string> types;
    std::smatch match;
    for (std::string line; std::getline(header, line);)
        if (std::regex_match(line, match, definition))
            types.push_back(match[1]);
    return types;
}

QString written(const Names& names) {
    QStringList list;
    for (const std::string& name : names)
        list << QString::fromStdString(name);
    return list.join(' ');
}

} // namespace

/// The layers of core/ are what CMake says they are.
class TestLayers : public QObject {
    Q_OBJECT

    std::vector<Layer> layers_;
    const std::filesystem::path core_ = LAMPO_CORE;

private slots:
    void initTestCase() {
        std::ifstream file(LAMPO_LAYERS);
        layers_ = declaredLayers(file);
        QVERIFY(layers_.size() > 10);
    }

    void readsIncludes() {
        std::istringstream source("#include \"base/text.h\"\n#include <QString>\n#include <algorithm>\n"
                                  "// #include \"comp/choice.h\"\n#include \"near.h\"\n");
        const Includes found = includesOf(source);
        QCOMPARE(found.layers, Names{"base"});
        QVERIFY(found.qt);
    }

    void everyFolderIsALayer() {
        Names folders, names;
        for (const auto& entry : std::filesystem::directory_iterator(core_))
            if (entry.is_directory())
                folders.insert(entry.path().filename().string());
        for (const Layer& layer : layers_)
            names.insert(layer.name);
        QCOMPARE(written(folders), written(names));
    }

    void usesAreWhatFilesInclude() {
        for (const Layer& layer : layers_) {
            const Includes found = includesOfFolder(core_ / layer.name);
            QVERIFY2(found.layers == layer.uses, qPrintable(QStringLiteral("%1 includes: %2; declares: %3")
                                                                .arg(QString::fromStdString(layer.name),
                                                                     written(found.layers), written(layer.uses))));
        }
    }

    void aLayerUsesOnlyWhatStandsBelow() {
        Names below;
        for (const Layer& layer : layers_) {
            for (const std::string& used : layer.uses)
                QVERIFY2(below.contains(used), qPrintable(QString::fromStdString(layer.name + " uses " + used)));
            below.insert(layer.name);
        }
    }

    void coreKnowsNoQt() {
        for (const Layer& layer : layers_)
            QVERIFY2(!includesOfFolder(core_ / layer.name).qt, layer.name.c_str());
    }

    void readsDefinitions() {
        std::istringstream source(
            "struct Fit {\nclass Later;\nenum class Verdict { hit };\nclass A final : public B {\n"
            "    struct Inner {\n// struct Not {\n");
        QCOMPARE(typesDefinedIn(source), (std::vector<std::string>{"Fit", "Verdict", "A"}));
    }

    void noTypeIsDefinedTwice() {
        std::map<std::string, std::string> definedIn;
        for (const std::filesystem::path& folder : {core_, core_ / "../app", core_ / "../cli"})
            for (const auto& entry : std::filesystem::recursive_directory_iterator(folder)) {
                if (entry.path().extension() != ".h")
                    continue;
                std::ifstream file(entry.path());
                for (const std::string& type : typesDefinedIn(file)) {
                    const auto [known, isNew] = definedIn.emplace(type, entry.path().filename().string());
                    QVERIFY2(isNew,
                             qPrintable(QString::fromStdString(type + " is defined in " + known->second +
                                                               " and in " + entry.path().filename().string())));
                }
            }
        QVERIFY(definedIn.size() > 200);
    }

    /// In the order of docs/architecture.md.
    void theWindowsFoldersStandInARow() {
        Names ahead{"look", "document", "sheet", "stops", "takes", "shell"};
        for (const std::string folder : {"look", "document", "sheet", "stops", "takes", "shell"}) {
            ahead.erase(folder);
            for (const std::string& used : includesOfFolder(core_ / "../app" / folder).layers)
                QVERIFY2(!ahead.contains(used), qPrintable(QString::fromStdString(folder + " uses " + used)));
        }
    }
};

QTEST_APPLESS_MAIN(TestLayers)
#include "tst_layers.moc"
