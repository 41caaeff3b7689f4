# The command line, as a library that takes effects of one's own and as a program; a microphone for the desk; the examples.
find_package(PkgConfig REQUIRED)
pkg_check_modules(CAIRO REQUIRED IMPORTED_TARGET cairo)
pkg_check_modules(POPT REQUIRED IMPORTED_TARGET popt)
pkg_check_modules(SOUND REQUIRED IMPORTED_TARGET sndfile samplerate alsa)
find_package(ZLIB REQUIRED)
find_path(GIF_INCLUDE_DIR gif_lib.h REQUIRED)
find_library(GIF_LIBRARY gif REQUIRED)

glanz_library_of(port_microphone STATIC SOURCES ports/linux/microphone/microphone.c HEADERS ports/linux NEEDS core DEFINE_HERE _GNU_SOURCE)
target_link_libraries(glanz_port_microphone PRIVATE PkgConfig::SOUND m)
add_library(glanz::port_microphone ALIAS glanz_port_microphone)

# What the tool and its tests share: sessions, input logs.
set(GLANZ_SESSION tool/session.c tool/session_log.c tool/session_shows.c tool/session_sound.c tool/hand.c tool/log.c tool/files.c tool/bdf.c tool/import.c
    tool/effects.c tool/build.c tool/contract.c)
add_library(glanz_session STATIC ${GLANZ_SESSION})
target_include_directories(glanz_session PUBLIC tool PRIVATE src/document ${GIF_INCLUDE_DIR})
target_link_libraries(glanz_session PUBLIC glanz_document glanz_port_linux glanz_port_microphone PRIVATE PkgConfig::CAIRO ${GIF_LIBRARY})
list(TRANSFORM GLANZ_OPTIONS PREPEND "-D" OUTPUT_VARIABLE GLANZ_BUILT_WITH) # effects of one's own are compiled as the library was
list(JOIN GLANZ_BUILT_WITH " " GLANZ_BUILT_WITH)
target_compile_definitions(glanz_session PRIVATE _GNU_SOURCE GLANZ_DESCRIPTIONS=1 GLANZ_HEADERS="${PROJECT_SOURCE_DIR}/include"
                           GLANZ_HEADERS_INSTALLED="${CMAKE_INSTALL_FULL_INCLUDEDIR}" GLANZ_BUILT_WITH="${GLANZ_BUILT_WITH}")
target_compile_options(glanz_session PRIVATE ${GLANZ_WARNINGS})

file(GLOB GLANZ_COMMANDS CONFIGURE_DEPENDS tool/*.c)
list(TRANSFORM GLANZ_SESSION PREPEND ${PROJECT_SOURCE_DIR}/ OUTPUT_VARIABLE GLANZ_SESSION_FILES)
list(REMOVE_ITEM GLANZ_COMMANDS ${GLANZ_SESSION_FILES} ${PROJECT_SOURCE_DIR}/tool/program.c)
add_library(glanz_commands STATIC ${GLANZ_COMMANDS})
target_include_directories(glanz_commands PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/tool/public> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
                           PRIVATE src/document ${GIF_INCLUDE_DIR})
target_link_libraries(glanz_commands PUBLIC glanz_session PRIVATE PkgConfig::CAIRO PkgConfig::POPT ZLIB::ZLIB ${GIF_LIBRARY} m)
target_compile_definitions(glanz_commands PRIVATE _GNU_SOURCE GLANZ_DESCRIPTIONS=1)
target_compile_options(glanz_commands PRIVATE ${GLANZ_WARNINGS})

# for programs: one library, of which only glanz_tool_main() is seen
set(GLANZ_TOOL_LIBRARY ${PROJECT_BINARY_DIR}/libglanz_tool.a)
add_custom_command(OUTPUT ${GLANZ_TOOL_LIBRARY} DEPENDS glanz_commands glanz_session glanz_port_microphone VERBATIM
                   COMMAND sh ${PROJECT_SOURCE_DIR}/cmake/glanz-tool-library.sh ${GLANZ_TOOL_LIBRARY} ${CMAKE_LINKER} ${CMAKE_OBJCOPY} ${CMAKE_AR}
                           $<TARGET_FILE:glanz_commands> $<TARGET_FILE:glanz_session> $<TARGET_FILE:glanz_port_microphone>)
add_custom_target(glanz_tool_library ALL DEPENDS ${GLANZ_TOOL_LIBRARY})
add_library(glanz_tool_whole INTERFACE)
add_dependencies(glanz_tool_whole glanz_tool_library)
target_include_directories(glanz_tool_whole INTERFACE ${PROJECT_SOURCE_DIR}/tool/public)
target_link_libraries(glanz_tool_whole INTERFACE ${GLANZ_TOOL_LIBRARY} "LINKER:--whole-archive,$<TARGET_FILE:glanz_core>,--no-whole-archive" glanz_document
                      glanz_port_linux PkgConfig::CAIRO PkgConfig::POPT PkgConfig::SOUND ZLIB::ZLIB ${GIF_LIBRARY} m)
add_library(glanz::tool ALIAS glanz_tool_whole)

add_executable(glanz_tool tool/program.c)
set_target_properties(glanz_tool PROPERTIES OUTPUT_NAME glanz)
target_link_libraries(glanz_tool PRIVATE glanz_commands)
target_compile_options(glanz_tool PRIVATE ${GLANZ_WARNINGS})
# effects of one's own find all of the library in the tool
set_target_properties(glanz_tool PROPERTIES ENABLE_EXPORTS ON)
target_link_options(glanz_tool PRIVATE "LINKER:--whole-archive,$<TARGET_FILE:glanz_core>,--no-whole-archive")

add_executable(demo_sounds demo/sounds.c)
target_link_libraries(demo_sounds PRIVATE PkgConfig::SOUND m)
target_compile_options(demo_sounds PRIVATE ${GLANZ_WARNINGS})

foreach(EXAMPLE 01-first-light 02-own-effect 05-find-the-wiring 06-keep-and-resume 07-two-dials 08-microphone)
  add_executable(${EXAMPLE} examples/${EXAMPLE}.c)
  target_link_libraries(${EXAMPLE} PRIVATE glanz_document glanz_port_linux glanz_port_microphone)
  target_compile_options(${EXAMPLE} PRIVATE ${GLANZ_WARNINGS})
endforeach()
target_sources(02-own-effect PRIVATE examples/effects/lighthouse.c)

# man pages and completions, from what the commands say
if(NOT CMAKE_CROSSCOMPILING)
  set(GLANZ_MANUAL ${PROJECT_BINARY_DIR}/manual)
  add_custom_command(OUTPUT ${GLANZ_MANUAL}/stamp DEPENDS glanz_tool VERBATIM
                     COMMAND ${CMAKE_COMMAND} -E make_directory ${GLANZ_MANUAL}/bash ${GLANZ_MANUAL}/zsh ${GLANZ_MANUAL}/fish
                     COMMAND glanz_tool manual --man ${GLANZ_MANUAL}/man
                     COMMAND sh -c "\"$1\" manual --completion bash > \"$2/bash/glanz\" && \"$1\" manual --completion zsh > \"$2/zsh/_glanz\" && \"$1\" manual --completion fish > \"$2/fish/glanz.fish\""
                             sh $<TARGET_FILE:glanz_tool> ${GLANZ_MANUAL}
                     COMMAND ${CMAKE_COMMAND} -E touch ${GLANZ_MANUAL}/stamp)
  add_custom_target(glanz_manual ALL DEPENDS ${GLANZ_MANUAL}/stamp)
endif()
