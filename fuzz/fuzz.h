/* SPDX-License-Identifier: MIT */
/* What the fuzz targets share. Built with libFuzzer, or with replay.c to run a corpus without it. */
#ifndef GLANZ_FUZZ_H
#define GLANZ_FUZZ_H

#include <stdlib.h>
#include <string.h>

#include "files.h"

#define FUZZ_CHECK(condition)                                                                                                  \
    do {                                                                                                                       \
        if (!(condition)) {                                                                                                    \
            abort();                                                                                                           \
        }                                                                                                                      \
    } while (0)

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size);

/* A copy of the input in memory of just its size, so that a sanitizer sees every byte too many. */
static inline struct text fuzz_text(const uint8_t *data, size_t size) {
    struct text text;
    text.bytes = (char *)malloc(size == 0 ? 1 : size);
    text.count = size;
    text.capacity = size;
    if (size > 0) {
        memcpy(text.bytes, data, size);
    }
    return text;
}

/* The rig that shows are read for. */
static const char fuzz_rig[] = "{\"rig\":\"r\",\"supplies\":{\"s\":{\"volts\":\"5 V\",\"limit\":\"1 "
                               "A\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":"
                               "[{\"chip\":\"WS2812B\",\"leds\":90}]}},\"surfaces\":{\"a\":{\"strip\":[{\"output\":\"o\","
                               "\"first\":0,\"leds\":30}]},\"b\":{\"ring\":"
                               "[{\"output\":\"o\",\"first\":30,\"leds\":10}]},\"g\":{\"grid\":[{\"name\":\"w\",\"output\":"
                               "\"o\",\"first\":40,\"columns\":6,"
                               "\"rows\":4,\"zigzag\":true},{\"output\":\"o\",\"first\":64,\"columns\":6,\"rows\":4,\"left\":6}"
                               "]}},\"inputs\":{\"k\":{\"button\":{\"pin\":2,"
                               "\"pressed\":\"low\"}},\"v\":{\"value\":{\"pin\":3,\"reads\":\"-2 to 6.5 m\",\"lost "
                               "after\":\"300 ms\"}},\"d\":{\"dial\":{\"pin\":4,\"lag\":\"40 "
                               "ms\"}},\"n\":{\"knob\":{\"pin\":5,\"second pin\":6}}}}";

static inline void fuzz_open_rig(struct document *rig) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    FUZZ_CHECK(document_rig(rig, fuzz_text((const uint8_t *)fuzz_rig, sizeof fuzz_rig - 1), &fault) == GLANZ_OK);
}

/* A refused document says what is wrong. */
static inline void fuzz_check_fault(glanz_status status, const struct glanz_fault *fault) {
    FUZZ_CHECK(status == GLANZ_OK || fault->text[0] != '\0');
    FUZZ_CHECK(memchr(fault->text, '\0', sizeof fault->text) != NULL &&
               memchr(fault->where, '\0', sizeof fault->where) != NULL);
}

#endif
