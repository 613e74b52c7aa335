// Saves a project under its own name with another title; what the tests of faults run.     save-once PROJECT TITLE
#include "project/project_file.h"

#include <csignal>
#include <cstdio>

int main(int argc, char** argv) {
    std::signal(SIGXFSZ, SIG_IGN);
    if (argc != 3)
        return 2;
    const auto saved = lampo::loadProject(argv[1]).and_then([&](lampo::Session session) {
        session.title = argv[2];
        return lampo::saveProject(session, argv[1]);
    });
    if (!saved)
        std::fprintf(stderr, "%s\n", saved.error().sentence.c_str());
    return saved ? 0 : 1;
}
