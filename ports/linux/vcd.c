/* SPDX-License-Identifier: MIT */
/* The lines' edges as value changes for logic-analyser programs. */
#include "line.h"

/* ---- value changes (IEEE 1364-2005, clause 18) ---- */

#define LEAD_NS 100000u /* the lines are seen idle for so long first: decoders want an edge to begin with */

/* In steps of 50 ns, which all waves are made of but those of slots of other lengths; decoders take every step one by one.
 * Counted in the time scale's 10 ns. */
static uint64_t vcd_time(uint64_t time_ns) {
    return (time_ns + LEAD_NS + 25u) / 50u * 5u;
}

static void every_line(FILE *file, const struct glanz_rig *rig) { /* all low */
    for (uint8_t o = 0; o < rig->output_count; o++) {
        fprintf(file, "0%c\n", '!' + o * 2);
        if (rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED) {
            fprintf(file, "0%c\n", '!' + o * 2 + 1);
        }
    }
}

void glanz_vcd_end(FILE *file, const struct glanz_rig *rig, uint64_t time_ns) {
    fprintf(file, "#%llu\n", (unsigned long long)vcd_time(time_ns));
    every_line(file, rig);
}

static void wire_name(FILE *file, const char *name, const char *ending) {
    for (; *name != '\0'; name++) { /* identifiers there have no spaces */
        int plain = (*name >= 'a' && *name <= 'z') || (*name >= 'A' && *name <= 'Z') || (*name >= '0' && *name <= '9');
        fputc(plain ? *name : '_', file);
    }
    fputs(ending, file);
}

void glanz_vcd_begin(FILE *file, const struct glanz_rig *rig) {
    fputs("$version Glanz " GLANZ_VERSION " $end\n$timescale 10 ns $end\n$scope module lines $end\n", file);
    for (uint8_t o = 0; o < rig->output_count; o++) {
        fprintf(file, "$var wire 1 %c ", '!' + o * 2);
        wire_name(file, rig->outputs[o].name, " $end\n");
        if (rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED) {
            fprintf(file, "$var wire 1 %c ", '!' + o * 2 + 1);
            wire_name(file, rig->outputs[o].name, "_clock $end\n");
        }
    }
    fputs("$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n", file);
    every_line(file, rig);
    fputs("$end\n", file);
}

void glanz_vcd_write(FILE *file, const struct glanz_rig *rig, const struct wave *waves, uint64_t zero_ns) {
    size_t at[GLANZ_OUTPUTS_MOST] = {0};
    uint64_t written = UINT64_MAX;
    for (;;) { /* the earliest edge of all lines, again and again */
        int earliest = -1;
        for (int o = 0; o < rig->output_count; o++) {
            if (at[o] < waves[o].count &&
                (earliest < 0 || waves[o].edges[at[o]].time_ns < waves[earliest].edges[at[earliest]].time_ns)) {
                earliest = o;
            }
        }
        if (earliest < 0) {
            return;
        }
        const struct edge *edge = &waves[earliest].edges[at[earliest]++];
        uint64_t time = vcd_time(edge->time_ns - zero_ns);
        if (time != written) {
            fprintf(file, "#%llu\n", (unsigned long long)time);
            written = time;
        }
        fprintf(file, "%c%c\n", '0' + edge->level, '!' + earliest * 2 + edge->clock);
    }
}
