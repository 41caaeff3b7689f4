/* SPDX-License-Identifier: MIT */
/* Plots over time, drawn by gnuplot as a PNG. */
#include "plot.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"

int plot_begin(struct plot *plot, const char *picture, const char *y_label) {
    strcpy(plot->drawn, "/tmp/glanz-plot-XXXXXX");
    plot->picture = picture;
    int file = mkstemp(plot->drawn);
    plot->gnuplot = file < 0 ? NULL : popen("gnuplot", "w");
    if (plot->gnuplot == NULL) {
        complain_plain("cannot run gnuplot: %s", strerror(errno));
        return 0;
    }
    close(file);
    fprintf(plot->gnuplot,
            "set terminal pngcairo size 1280,800 font 'sans,12' background '#14161a'\n"
            "set output '%s'\nset border lc rgb '#8a8f98'\nset tics textcolor rgb '#c8ccd2'\nset key noenhanced outside bottom "
            "center "
            "horizontal textcolor rgb '#c8ccd2'\n"
            "set bmargin 6\nset xlabel 'time (s)' offset 0,0.5 textcolor rgb '#c8ccd2'\nset ylabel '%s' textcolor "
            "rgb '#c8ccd2'\nset grid lc rgb '#3a3f48' lw 1\nset rmargin 4\n",
            plot->drawn, y_label);
    return 1;
}

/* Between single quotes, where gnuplot substitutes nothing. */
static void put_quoted(struct plot *plot, const char *text) {
    for (; text != NULL && *text != '\0'; text++) {
        if (*text == '\'') {
            fputs("''", plot->gnuplot);
        } else {
            fputc((unsigned char)*text < 0x20 || *text == 0x7F ? ' ' : *text, plot->gnuplot);
        }
    }
}

void plot_title(struct plot *plot, const char *first, const char *second, const char *third) {
    fputs(" title '", plot->gnuplot);
    put_quoted(plot, first);
    put_quoted(plot, second);
    put_quoted(plot, third);
    fputs("'", plot->gnuplot);
}

const char *plot_shade(unsigned n) {
    static const char *const shades[] = {"#e8b04a", "#4aa3a2", "#c8553d", "#8fb339",
                                         "#7b6fd0", "#d98cb3", "#6fb7e8", "#b8a07a"};
    return shades[n % (sizeof shades / sizeof shades[0])];
}

int plot_end(struct plot *plot) {
    fputs("\n", plot->gnuplot);
    int status = pclose(plot->gnuplot);
    struct text bytes;
    int good = status == 0 && text_read(&bytes, plot->drawn);
    unlink(plot->drawn);
    if (!good) {
        complain_plain("gnuplot could not draw %s; expected it to be there (gnuplot-nox), and room in /tmp", plot->picture);
        return EXIT_FILE;
    }
    good = output_bytes(plot->picture, bytes.bytes, bytes.count);
    text_free(&bytes);
    return good ? EXIT_GOOD : EXIT_FILE;
}
