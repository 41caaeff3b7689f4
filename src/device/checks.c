/* SPDX-License-Identifier: MIT */
/* The part that checks what programs hand in, and says in words what is wrong. */
#include "whole.h"

static void count(struct glanz_fault *fault, GLANZ_CONST char *what, uint32_t count, uint32_t most) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, what);
    glanz_fault_number(fault, count);
    glanz_fault_add(fault, GLANZ_TEXT(" "));
    glanz_fault_add(fault, what);
    glanz_fault_add(fault, GLANZ_TEXT("; expected at most "));
    glanz_fault_number(fault, most);
}

static void segments_most(struct glanz_fault *fault, uint32_t segments, uint32_t most) {
    count(fault, GLANZ_TEXT("segments"), segments, most);
}

static void fading_wrong(struct glanz_fault *fault) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, GLANZ_TEXT("fading"));
    glanz_fault_add(fault,
                    GLANZ_TEXT("looks change by the part \"control\"; expected 0 or a number of looks, or no such part"));
}

static void inputs_most(struct glanz_fault *fault, uint32_t inputs, uint32_t most) {
    count(fault, GLANZ_TEXT("inputs"), inputs, most);
    glanz_fault_add(fault, GLANZ_TEXT(", which the device was started with: see \"input_capacity\""));
}

static void layout(struct glanz_fault *fault) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, GLANZ_TEXT("the program was compiled with other options than the library; expected the same "
                                      "glanz/config.h and definitions for both"));
}

/* Which of the program's own is wrong, what it is, and what it should be. */
static void misuse(struct glanz_fault *fault, const void *out, const void *memory, const struct glanz_setup *setup) {
    const struct glanz_port *port = setup->port;
    glanz_fault_begin(fault);
    if (out == NULL || memory == NULL) {
        glanz_fault_add(fault, out == NULL ? GLANZ_TEXT("the device's pointer is NULL; expected where to put it")
                                           : GLANZ_TEXT("the memory is NULL; expected it as GLANZ_DEVICE_MEMORY() is"));
    } else if (GLANZ_MISALIGNED(memory) != 0) {
        glanz_fault_add(fault, GLANZ_TEXT("the memory begins "));
        glanz_fault_number(fault, (uint32_t)GLANZ_MISALIGNED(memory));
        glanz_fault_add(fault, GLANZ_TEXT(" bytes beside a pointer's place; expected it as GLANZ_DEVICE_MEMORY() is"));
    } else if (setup->rig == NULL || setup->show == NULL || port == NULL) {
        glanz_fault_add(fault, setup->rig == NULL    ? GLANZ_TEXT("setup.rig is NULL; expected a rig")
                               : setup->show == NULL ? GLANZ_TEXT("setup.show is NULL; expected a show")
                                                     : GLANZ_TEXT("setup.port is NULL; expected a port"));
    } else if (port->version != 2) {
        glanz_fault_add(fault, GLANZ_TEXT("setup.port->version is "));
        glanz_fault_number(fault, port->version);
        glanz_fault_add(fault, GLANZ_TEXT("; expected 2"));
    } else if (port->start == NULL || port->busy == NULL || port->time_us == NULL) {
        glanz_fault_add(fault, port->start == NULL ? GLANZ_TEXT("setup.port->start is NULL; expected a function that sends")
                               : port->busy == NULL
                                   ? GLANZ_TEXT("setup.port->busy is NULL; expected a function that tells whether it sends")
                                   : GLANZ_TEXT("setup.port->time_us is NULL; expected a function that tells the time"));
    } else {
        glanz_fault_add(fault, GLANZ_TEXT("setup.segment_capacity is "));
        glanz_fault_number(fault, setup->segment_capacity);
        glanz_fault_add(fault, GLANZ_TEXT("; expected at most "));
        glanz_fault_number(fault, GLANZ_SEGMENTS_MOST);
    }
}

static glanz_status device_memory(struct glanz_fault *fault, size_t needed, size_t given, GLANZ_CONST struct glanz_parts *parts,
                                  GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, uint8_t inputs,
                                  uint8_t segments) {
    uint32_t led_bytes = glanz_rig_led_bytes(rig);
#if GLANZ_FIELDS
    led_bytes += parts->fields == NULL ? 0 : (uint32_t)parts->fields->memory(show, rig);
#else
    (void)parts;
    (void)show;
#endif
    glanz_status status = glanz_fault_memory(fault, GLANZ_TEXT("the device"), needed, given);
    glanz_fault_add(fault, GLANZ_TEXT("; expected GLANZ_DEVICE_MEMORY(name, "));
    glanz_fault_number(fault, led_bytes);
    glanz_fault_add(fault, GLANZ_TEXT(", "));
    glanz_fault_number(fault, rig->output_count);
    glanz_fault_add(fault, GLANZ_TEXT(", "));
    glanz_fault_number(fault, inputs);
    glanz_fault_add(fault, GLANZ_TEXT(", "));
    glanz_fault_number(fault, segments);
    glanz_fault_add(fault, GLANZ_TEXT(")"));
    return status;
}

GLANZ_CONST struct glanz_checks_part glanz_part_checks = {.rig = glanz_rig_check,
                                                          .look = glanz_look_check,
                                                          .segments = glanz_segments_check,
                                                          .show = glanz_show_check,
                                                          .memory = glanz_fault_memory,
                                                          .segments_most = segments_most,
                                                          .inputs_most = inputs_most,
                                                          .fading = fading_wrong,
                                                          .layout = layout,
                                                          .device_memory = device_memory,
                                                          .misuse = misuse};
