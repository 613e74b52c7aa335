# lampo_layer(NAME SOURCES a.cpp ... HEADERS a.h ... USES layer ... LIBRARIES lib ...)
# One folder of core/ as a static library. It sees only the layers named in USES (and what those use), and each of
# its headers is compiled on its own by the target all_verify_interface_header_sets.
function(lampo_layer name)
    cmake_parse_arguments(layer "" "" "SOURCES;HEADERS;USES;LIBRARIES" ${ARGN})
    set(target lampo_${name})
    add_library(${target} STATIC ${layer_SOURCES})
    target_sources(${target} PUBLIC FILE_SET HEADERS BASE_DIRS ${PROJECT_SOURCE_DIR}/core FILES ${layer_HEADERS})
    set_target_properties(${target} PROPERTIES VERIFY_INTERFACE_HEADER_SETS ON LINKER_LANGUAGE CXX)
    list(TRANSFORM layer_USES PREPEND lampo_)
    target_link_libraries(${target} PUBLIC lampo_options ${layer_USES} ${layer_LIBRARIES})
endfunction()
