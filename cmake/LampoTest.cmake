# lampo_add_test(tst_name.cpp LABEL core LIBRARIES target ...)
# One Qt Test executable from one file; windows are drawn offscreen.
find_package(Qt6 REQUIRED COMPONENTS Test)

function(lampo_add_test source)
    cmake_parse_arguments(test "" "LABEL" "LIBRARIES" ${ARGN})
    get_filename_component(name ${source} NAME_WE)
    add_executable(${name} ${source})
    set_target_properties(${name} PROPERTIES AUTOMOC ON)
    target_link_libraries(${name} PRIVATE lampo_options lampo_test_support Qt6::Test ${test_LIBRARIES})
    add_test(NAME ${name} COMMAND ${name})
    set_tests_properties(${name} PROPERTIES LABELS "${test_LABEL}" TIMEOUT 600
        ENVIRONMENT "QT_QPA_PLATFORM=offscreen;LAMPO_AUDIO=simulated;XDG_RUNTIME_DIR=${CMAKE_BINARY_DIR}/runtime")
endfunction()
file(MAKE_DIRECTORY ${CMAKE_BINARY_DIR}/runtime)
file(CHMOD ${CMAKE_BINARY_DIR}/runtime PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE)
