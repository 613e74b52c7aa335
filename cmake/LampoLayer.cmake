# lampo_layer(NAME SOURCES a.cpp ... HEADERS a.h ... USES layer ... LIBRARIES lib ...)
# One folder of core/ as a static library. USES names every layer that its files include, and no other: tst_layers
# compares. Each of its headers is compiled on its own by the target all_verify_interface_header_sets.
function(lampo_layer name)
    cmake_parse_arguments(layer "" "" "SOURCES;HEADERS;USES;LIBRARIES" ${ARGN})
    set(target lampo_${name})
    add_library(${target} STATIC ${layer_SOURCES})
    target_precompile_headers(${target} REUSE_FROM lampo_precompiled_std)
    target_sources(${target} PUBLIC FILE_SET HEADERS BASE_DIRS ${PROJECT_SOURCE_DIR}/core FILES ${layer_HEADERS})
    set_target_properties(${target} PROPERTIES VERIFY_INTERFACE_HEADER_SETS ON LINKER_LANGUAGE CXX)
    list(JOIN layer_USES " " uses)
    set_property(GLOBAL APPEND PROPERTY LAMPO_LAYERS "${name}: ${uses}")
    list(TRANSFORM layer_USES PREPEND lampo_)
    target_link_libraries(${target} PUBLIC lampo_options ${layer_USES} ${layer_LIBRARIES})
endfunction()

# Writes the layers in the order of their making, one a line, "name: used used".
function(lampo_write_layers file)
    get_property(layers GLOBAL PROPERTY LAMPO_LAYERS)
    list(JOIN layers "\n" text)
    file(CONFIGURE OUTPUT ${file} CONTENT "${text}\n" @ONLY)
endfunction()
