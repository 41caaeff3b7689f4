/* SPDX-License-Identifier: MIT */
/* JSON, written as it is told (RFC 8259). */
#include "facts.h"

#include <math.h>

static void put_string(FILE *to, const char *text) {
    putc('"', to);
    for (; *text != '\0'; text++) {
        unsigned char c = (unsigned char)*text;
        if (c == '"' || c == '\\') {
            fprintf(to, "\\%c", c);
        } else if (c < 0x20) {
            fprintf(to, "\\u%04x", c);
        } else {
            putc(c, to);
        }
    }
    putc('"', to);
}

static void begin_value(struct facts *facts, const char *name) {
    if (facts->any[facts->depth]) {
        putc(',', facts->to);
    }
    if (facts->depth != 0) {
        fprintf(facts->to, "\n%*s", facts->depth * 2, "");
    }
    facts->any[facts->depth] = 1;
    if (name != NULL) {
        put_string(facts->to, name);
        fputs(": ", facts->to);
    }
}

static void enter(struct facts *facts, char open, char close) {
    putc(open, facts->to);
    facts->depth += facts->depth + 1 < FACTS_DEPTH;
    facts->any[facts->depth] = 0;
    facts->close[facts->depth] = close;
}

void facts_open(struct facts *facts, FILE *to) {
    facts->to = to;
    facts->depth = 0;
    facts->any[0] = 0;
    enter(facts, '{', '}');
}

void facts_object(struct facts *facts, const char *name) {
    begin_value(facts, name);
    enter(facts, '{', '}');
}

void facts_list(struct facts *facts, const char *name) {
    begin_value(facts, name);
    enter(facts, '[', ']');
}

void facts_end(struct facts *facts) {
    char close = facts->close[facts->depth];
    int any = facts->any[facts->depth];
    facts->depth--;
    if (any) {
        fprintf(facts->to, "\n%*s", facts->depth * 2, "");
    }
    putc(close, facts->to);
    if (facts->depth == 0) {
        putc('\n', facts->to);
    }
}

void facts_text(struct facts *facts, const char *name, const char *text) {
    begin_value(facts, name);
    if (text == NULL) {
        fputs("null", facts->to);
    } else {
        put_string(facts->to, text);
    }
}

void facts_number(struct facts *facts, const char *name, double number, int decimals) {
    begin_value(facts, name);
    fprintf(facts->to, isfinite(number) ? "%.*f" : "null", decimals, number);
}

void facts_flag(struct facts *facts, const char *name, int is) {
    begin_value(facts, name);
    fputs(is ? "true" : "false", facts->to);
}
