# The component: core, the port for the LED peripheral, and JSON where it was asked for (menuconfig: Glanz).
get_filename_component(GLANZ_ROOT ${CMAKE_CURRENT_LIST_DIR}/../.. ABSOLUTE)
file(GLOB_RECURSE GLANZ_SOURCES ${GLANZ_ROOT}/src/*.c)
if(NOT CONFIG_GLANZ_DOCUMENT)
  list(FILTER GLANZ_SOURCES EXCLUDE REGEX "/src/document/")
endif()
idf_component_register(SRCS ${GLANZ_SOURCES} ${GLANZ_ROOT}/ports/esp32/board.c INCLUDE_DIRS ${GLANZ_ROOT}/include ${GLANZ_ROOT}/ports/esp32
                       REQUIRES driver esp_partition esp_timer)
if(CONFIG_GLANZ_OPTIONS)
  separate_arguments(GLANZ_OPTIONS UNIX_COMMAND "${CONFIG_GLANZ_OPTIONS}")
  target_compile_definitions(${COMPONENT_LIB} PUBLIC ${GLANZ_OPTIONS})
endif()
