# What nearly every file begins with, compiled once: half of the time of a build from nothing.
set(RAKUGO_COMMON_HEADERS <algorithm> <array> <filesystem> <functional> <map> <memory> <optional> <set> <span> <string>
  <string_view> <vector> <glm/glm.hpp> <glm/gtc/quaternion.hpp> <nlohmann/json.hpp>)

# The same for what draws a window; its flags are others (position independent, Qt's words).
set(RAKUGO_WINDOW_LIBRARIES app standin)
set(RAKUGO_WINDOW_HEADERS <QFloat16> <QApplication> <QLabel> <QLineEdit> <QListWidget> <QPainter> <QPushButton> <QTimer>
  <QVBoxLayout> <QWidget> <QOpenGLWidget>)

# rakugo_precompiled(<target> <first target> [<header>...]): the first target that asks compiles the headers, the
# others, which must have the same flags, share what it made.
function(rakugo_precompiled target first)
  if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    target_compile_options(${target} PRIVATE -fpch-preprocess)
  endif()
  if(target STREQUAL first)
    target_precompile_headers(${target} PRIVATE ${ARGN} ${RAKUGO_COMMON_HEADERS})
  else()
    target_precompile_headers(${target} REUSE_FROM ${first})
  endif()
endfunction()

# rakugo_joined(<target>): several files are compiled as one, so that what all of them instantiate (JSON above all) is
# instantiated and optimised once. Names in the anonymous namespaces of a library must differ for that.
function(rakugo_joined target)
  if(RAKUGO_JOINED)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${ARGV1})
  endif()
endfunction()

# Kernels over vertices and pixels are optimised fully. What reads documents, judges and draws windows is not worth the
# time it takes to compile so.
set(RAKUGO_LIGHTLY_OPTIMISED rulebook mod check tool app standin)
function(rakugo_optimise_lightly target)
  if(CMAKE_BUILD_TYPE STREQUAL "Release")
    target_compile_options(${target} PRIVATE -O1)
  endif()
endfunction()

# rakugo_test_build(<target>): a test program spends its time in the libraries; its own code is not worth optimising.
function(rakugo_test_build target)
  if(CMAKE_BUILD_TYPE STREQUAL "Release")
    target_compile_options(${target} PRIVATE -O0)
  endif()
endfunction()

# rakugo_library(<name> [DEPS <lib>...] [LINK <target>...] [LINK_PRIVATE <target>...])
#
# One folder src/<name> is one target. Its headers are reached only through its own include root
# (<build>/roots/<name>/<name> -> src/<name>), which travels with the link: a library that does not link
# another cannot include it. Neighbours named *_test.cpp become the test program <name>_test.
function(rakugo_library name)
  cmake_parse_arguments(A "" "" "DEPS;LINK;LINK_PRIVATE" ${ARGN})
  set(dir ${PROJECT_SOURCE_DIR}/src/${name})
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${dir}/*.cpp)
  set(tests ${sources})
  list(FILTER sources EXCLUDE REGEX "_test\\.cpp$|/main\\.cpp$")
  list(FILTER tests INCLUDE REGEX "_test\\.cpp$")
  set(root ${PROJECT_BINARY_DIR}/roots/${name})
  file(MAKE_DIRECTORY ${root})
  file(CREATE_LINK ${dir} ${root}/${name} SYMBOLIC)
  set(deps ${A_DEPS})
  list(TRANSFORM deps PREPEND rakugo_)
  # Headers are listed so that Qt's meta-object compiler sees those without a .cpp of the same name.
  file(GLOB_RECURSE headers CONFIGURE_DEPENDS ${dir}/*.h)
  add_library(rakugo_${name} STATIC ${sources} ${headers})
  target_include_directories(rakugo_${name} PUBLIC ${root})
  rakugo_joined(rakugo_${name} 12)
  if(name IN_LIST RAKUGO_LIGHTLY_OPTIMISED)
    rakugo_optimise_lightly(rakugo_${name})
  endif()
  target_link_libraries(rakugo_${name} PUBLIC ${deps} ${A_LINK} PRIVATE ${A_LINK_PRIVATE} rakugo_flags)
  if(name IN_LIST RAKUGO_WINDOW_LIBRARIES)
    rakugo_precompiled(rakugo_${name} rakugo_${name} ${RAKUGO_WINDOW_HEADERS})
  elseif(name IN_LIST RAKUGO_LIGHTLY_OPTIMISED)  # a precompiled header holds the optimisation it was made with
    rakugo_precompiled(rakugo_${name} rakugo_rulebook)
  elseif(NOT name MATCHES "^(bundle|render)$")  # few files, and other headers
    rakugo_precompiled(rakugo_${name} rakugo_base)
  endif()
  if(tests AND RAKUGO_TESTS)
    add_executable(${name}_test ${tests})
    target_link_libraries(${name}_test PRIVATE rakugo_${name} rakugo_flags GTest::gtest_main GTest::gmock)
    target_compile_definitions(${name}_test PRIVATE RAKUGO_SOURCE_DIR="${PROJECT_SOURCE_DIR}")
    if(NOT name IN_LIST RAKUGO_WINDOW_LIBRARIES AND NOT name MATCHES "^(bundle|render)$")
      rakugo_precompiled(${name}_test base_test <gtest/gtest.h> <gmock/gmock.h>)
    endif()
    rakugo_test_build(${name}_test)
    if(NOT name MATCHES "^(formats|prepare)$")  # their tests each have a `read` or `book` of their own
      rakugo_joined(${name}_test 8)
    endif()
    # tests/support: headers alone, so that a library's test still links that library only.
    target_include_directories(${name}_test PRIVATE ${PROJECT_SOURCE_DIR}/tests)
    gtest_discover_tests(${name}_test DISCOVERY_MODE PRE_TEST PROPERTIES TIMEOUT 300)
  endif()
endfunction()
