/* SPDX-License-Identifier: MIT */
/* What reading a document costs: texts that are as dear as they can be made, of two lengths each, so that a KB's own cost is
 * their difference. What is refused is counted like what is accepted. */
#include "bench.h"

#include <glanz/document.h>
#include <string.h>

#define LEAST 16384u
#define ROOM (3u << 20)

static const char rig_text[] = "{\"rig\":\"t\",\"supplies\":{\"s\":{\"volts\":\"5 V\"}},"
                               "\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{\"chip\":\"WS2812B\",\"leds\":60}]}},"
                               "\"surfaces\":{\"a\":{\"strip\":[{\"output\":\"o\",\"first\":0,\"leds\":60}]}}}";
static const char tail[] = "\"looks\":{\"l\":{\"effect\":\"plain\"}},\"segments\":{\"s\":{\"surface\":\"a\",\"look\":\"l\"}}}";

enum member { MEMBER_COLOR, MEMBER_TWICE, MEMBER_UNKNOWN, MEMBER_LOOK, MEMBER_LIST, MEMBER_ESCAPES };

static const struct {
    const char *names[2], *head;
    enum member member;
    const char *close; /* between the members and the tail */
} cases[] = {
    {{"reading colours 16", "reading colours 32"}, "{\"show\":\"t\",\"colors\":{", MEMBER_COLOR, "},"},
    {{"reading keys that stand twice 16", "reading keys that stand twice 32"},
     "{\"show\":\"t\",\"colors\":{",
     MEMBER_TWICE,
     "},"},
    {{"reading unknown keys 16", "reading unknown keys 32"}, "{\"show\":\"t\",", MEMBER_UNKNOWN, ","},
    {{"reading looks 16", "reading looks 32"}, "{\"show\":\"t\",\"looks\":{", MEMBER_LOOK, "},"},
    {{"reading nested lists 16", "reading nested lists 32"}, "{\"show\":\"t\",\"colors\":[", MEMBER_LIST, "],"},
    {{"reading escapes 16", "reading escapes 32"}, "{\"show\":\"t\",\"colors\":{", MEMBER_ESCAPES, "},"},
};

static uint64_t memory[ROOM / 8];
static char text[2 * LEAST + 512];
static size_t length;

static void add(const char *piece) {
    size_t count = strlen(piece);
    memcpy(text + length, piece, count);
    length += count;
}

static void add_with(const char *before, unsigned number, const char *after) {
    char digits[12];
    uint8_t at = sizeof digits - 1;
    digits[at] = 0;
    do {
        digits[--at] = (char)('0' + number % 10);
        number /= 10;
    } while (number != 0);
    add(before);
    add(digits + at);
    add(after);
}

static void add_member(enum member member, unsigned number) {
    switch (member) {
    case MEMBER_COLOR:
        add_with("\"c", number, "\":\"#12");
        add_with("", 1000 + number % 9000, "\"");
        break;
    case MEMBER_TWICE: /* the first few are all different */
        add_with("\"k", number > 60 ? number / 2 * 2 : number, "\":1");
        break;
    case MEMBER_UNKNOWN: add_with("\"k", number, "\":1"); break;
    case MEMBER_LOOK:
        add_with("\"look ", number, "\":{\"effect\":\"comet\",\"tail\":\"");
        add_with("", number % 40 + 1, " leds\"}");
        break;
    case MEMBER_LIST: add("[[[[[[[[[1]]]]]]]]]"); break;
    case MEMBER_ESCAPES:
        add_with("\"\\u0041\\u00e4\\ud83d\\ude00\\u0041\\u00e4\\ud83d\\ude00", number, "\":\"#123456\"");
        break;
    default: break;
    }
}

static void write_text(unsigned of, size_t size) {
    length = 0;
    add(cases[of].head);
    for (unsigned i = 0; length + sizeof tail < size; i++) {
        if (i > 0) {
            add(",");
        }
        add_member(cases[of].member, i);
    }
    add(cases[of].close);
    add(tail);
}

void bench_run(void) {
    const struct glanz_rig *rig;
    size_t used;
    if (glanz_rig_read(&rig, &used, memory, sizeof memory, rig_text, sizeof rig_text - 1, NULL) != GLANZ_OK) {
        return;
    }
    used = (used + 7) & ~(size_t)7;
    for (unsigned of = 0; of < sizeof cases / sizeof cases[0]; of++) {
        for (unsigned times = 1; times <= 2; times++) {
            const struct glanz_show *show;
            size_t stays;
            struct glanz_fault fault;
            glanz_status status;
            write_text(of, times * LEAST);
            bench_begin(cases[of].names[times - 1]);
            status = glanz_show_read(&show, &stays, memory + used / 8, sizeof memory - used, text, length, rig, glanz_effects,
                                     NULL, 0, &fault);
            bench_end(1);
            if (status == GLANZ_ERR_MEMORY || status == GLANZ_ERR_ARGUMENT) { /* then nothing was measured */
                bench_bytes("reading failed", (uint32_t)fault.needed);
            }
        }
    }
}
