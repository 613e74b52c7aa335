# lampo_add_test(tst_name.cpp LABEL core LIBRARIES target ...)
# One Qt Test executable from one file; windows are drawn offscreen.
find_package(Qt6 REQUIRED COMPONENTS Test)

# core_tests, threads_tests … build what bears a label.
foreach(label core threads cli app)
    add_custom_target(${label}_tests)
endforeach()

function(lampo_add_test source)
    cmake_parse_arguments(test "" "LABEL" "LIBRARIES" ${ARGN})
    get_filename_component(name ${source} NAME_WE)
    # Each test has one class in one file: moc alone is faster than automatic moc, which compiles one more file.
    set(moc ${CMAKE_CURRENT_BINARY_DIR}/moc/${name}.moc)
    add_custom_command(OUTPUT ${moc} COMMAND Qt6::moc ${CMAKE_CURRENT_SOURCE_DIR}/${source} -o ${moc}
        DEPENDS ${source} VERBATIM)
    add_executable(${name} ${source} ${moc})
    target_include_directories(${name} PRIVATE ${CMAKE_CURRENT_BINARY_DIR}/moc)
    target_link_libraries(${name} PRIVATE lampo_options lampo_test_support Qt6::Test ${test_LIBRARIES})
    if(test_LABEL STREQUAL app)
        target_precompile_headers(${name} REUSE_FROM lampo_precompiled_app)
    else()
        target_precompile_headers(${name} REUSE_FROM lampo_precompiled_core)
    endif()
    add_test(NAME ${name} COMMAND ${name})
    add_dependencies(${test_LABEL}_tests ${name})
    set_tests_properties(${name} PROPERTIES LABELS "${test_LABEL}" TIMEOUT 600
        ENVIRONMENT "QT_QPA_PLATFORM=offscreen;LAMPO_AUDIO=simulated;XDG_RUNTIME_DIR=${CMAKE_BINARY_DIR}/runtime;XDG_STATE_HOME=${CMAKE_BINARY_DIR}/state/${name}")
endfunction()
file(MAKE_DIRECTORY ${CMAKE_BINARY_DIR}/runtime ${CMAKE_BINARY_DIR}/tests/moc)
file(CHMOD ${CMAKE_BINARY_DIR}/runtime PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE)
