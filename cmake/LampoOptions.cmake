# One INTERFACE target carries the language level, the warnings and the sanitizers; every target links it.
find_package(Threads REQUIRED)
find_package(PkgConfig REQUIRED)

set(CMAKE_EXPORT_COMPILE_COMMANDS ON)
set(CMAKE_CXX_EXTENSIONS OFF)
if(NOT CMAKE_BUILD_TYPE)
    set(CMAKE_BUILD_TYPE Release CACHE STRING "" FORCE)
endif()

# What was compiled before, here or in another clone, is not compiled again where ccache is present; its manual asks
# for these settings where headers are precompiled. Not with clang, whose precompiled headers know when they were made,
# and not where ccache cannot write: it would fail every file.
find_program(LAMPO_CCACHE ccache)
if(LAMPO_CCACHE AND CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    file(WRITE ${CMAKE_BINARY_DIR}/ccache_works.cpp "")
    execute_process(COMMAND ${LAMPO_CCACHE} ${CMAKE_CXX_COMPILER} -c ccache_works.cpp -o ccache_works.o
        WORKING_DIRECTORY ${CMAKE_BINARY_DIR} RESULT_VARIABLE lampo_ccache_failed OUTPUT_QUIET ERROR_QUIET)
    if(lampo_ccache_failed EQUAL 0)
        add_compile_options(-fpch-preprocess)
        set_property(GLOBAL PROPERTY RULE_LAUNCH_COMPILE "${CMAKE_COMMAND} -E env CCACHE_SLOPPINESS=pch_defines,time_macros CCACHE_BASEDIR=${PROJECT_SOURCE_DIR} ${LAMPO_CCACHE}")
    endif()
endif()

add_library(lampo_options INTERFACE)
target_compile_features(lampo_options INTERFACE cxx_std_20)
target_compile_options(lampo_options INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wno-sign-conversion -Wnon-virtual-dtor -Woverloaded-virtual -Werror
    # GCC 12 sees overlaps and overflows in std::string's operator+ that are not there (GCC bug 105651), more of them
    # with the standard library precompiled. clang and the sanitizers look for real ones.
    $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict;-Wno-stringop-overflow;-Wno-array-bounds>
    # clang wants braces around each unit and index inside others; the standard and GCC do not.
    $<$<CXX_COMPILER_ID:Clang>:-Wno-missing-braces>
    # Nothing here looks at errno after a mathematical function, and rounding is three times as fast without it.
    -fno-math-errno
    # Some libraries ask for it; all targets have it, so that they can share what is precompiled.
    -pthread)
target_link_libraries(lampo_options INTERFACE Threads::Threads)

if(LAMPO_SANITIZE)
    target_compile_options(lampo_options INTERFACE -fsanitize=${LAMPO_SANITIZE} -fno-omit-frame-pointer -fno-sanitize-recover=all)
    # GCC's warnings by flow see errors in what sanitizers add (GCC's manual says so at -fsanitize).
    target_compile_options(lampo_options INTERFACE $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>)
    target_link_options(lampo_options INTERFACE -fsanitize=${LAMPO_SANITIZE})
endif()
set(CMAKE_AUTOMOC_MOC_OPTIONS --include=${CMAKE_CURRENT_LIST_DIR}/moc_first.h)
