/* SPDX-License-Identifier: MIT */
/* Made-up sound for the demo, as WAV files of 16 kHz: a bell buoy in the swell, waves on the jetty, a slow and a fast tune.
 * usage: demo_sounds FOLDER */
#include <math.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <sndfile.h>

#define RATE 16000
#define SECONDS 16
#define COUNT (RATE * SECONDS)
#define PI 3.14159265358979323846

static double wave[COUNT];
static uint32_t state;

static double noise(void) {
    state = state * 1664525u + 1013904223u;
    return (double)(state >> 8) / 8388608.0 - 1;
}

/* One stroke: the partials of a small bronze bell, each dying away in its own time. */
static void stroke(double time, double level) {
    static const double partials[][3] = {{0.5, 0.5, 2.4}, {1, 1, 1.6},      {1.19, 0.7, 1.2}, {1.5, 0.4, 0.9},
                                         {2, 0.8, 0.7},   {2.67, 0.4, 0.4}, {4.1, 0.25, 0.2}};
    for (size_t i = (size_t)(time * RATE); i < COUNT; i++) {
        double t = (double)i / RATE - time;
        for (size_t k = 0; k < sizeof partials / sizeof *partials; k++) {
            wave[i] += level * 0.16 * partials[k][1] * sin(2 * PI * 523 * partials[k][0] * t) * exp(-t / partials[k][2]);
        }
    }
}

/* Water that runs up and drains: noise through one pole that opens and closes. */
static void swell(double level, double seconds) {
    double low = 0;
    double lower = 0;
    for (size_t i = 0; i < COUNT; i++) {
        double up = 0.5 - 0.5 * cos(2 * PI * (double)i / RATE / seconds);
        low += (0.03 + 0.25 * up * up) * (noise() - low);
        lower += 0.01 * (low - lower);
        wave[i] += level * (0.15 + 0.85 * up * up) * (low - lower);
    }
}

static void pluck(double time, double hz, double level, double decay) {
    for (size_t i = (size_t)(time * RATE); i < COUNT && (double)i / RATE < time + 5 * decay; i++) {
        double t = (double)i / RATE - time;
        for (int k = 1; k <= 6; k++) {
            wave[i] += level * 0.25 / k * sin(2 * PI * hz * k * t) * exp(-t * (1 + 0.3 * k) / decay) * fmin(1, t * 300);
        }
    }
}

static void drum(double time, double level) {
    double phase = 0;
    for (size_t i = (size_t)(time * RATE); i < COUNT && (double)i / RATE < time + 0.4; i++) {
        double t = (double)i / RATE - time;
        phase += 2 * PI * (52 + 90 * exp(-t / 0.03)) / RATE;
        wave[i] += level * 0.5 * sin(phase) * exp(-t / 0.11);
    }
}

static void brush(double time, double level) {
    double before = 0;
    for (size_t i = (size_t)(time * RATE); i < COUNT && (double)i / RATE < time + 0.15; i++) {
        double t = (double)i / RATE - time;
        double x = noise();
        wave[i] += level * 0.12 * (x - before) * exp(-t / 0.03);
        before = x;
    }
}

/* A tune over a drum and a brush. @param notes semitones above A3; 99: none. */
static void tune(double bpm, const int *notes, int count, double decay) {
    double beat = 60 / bpm;
    for (int i = 0; 0.5 + i * beat / 2 < SECONDS - 1.2; i++) {
        double time = 0.5 + i * beat / 2;
        int note = notes[i % count];
        if (note != 99) {
            pluck(time, 220 * pow(2, note / 12.0), 0.55, decay);
        }
        if (i % 2 == 0) {
            drum(time, i % 4 == 0 ? 0.9 : 0.6);
        } else {
            brush(time, 0.9);
        }
    }
}

static int save(const char *folder, const char *name) {
    static short samples[COUNT];
    char path[512];
    SF_INFO info;
    memset(&info, 0, sizeof info);
    info.samplerate = RATE;
    info.channels = 1;
    info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
    for (size_t i = 0; i < COUNT; i++) {
        double x = wave[i] + 0.0004 * noise();
        samples[i] = (short)lrint(32767 * fmax(-1, fmin(1, x)));
    }
    memset(wave, 0, sizeof wave);
    snprintf(path, sizeof path, "%s/%s", folder, name);
    SNDFILE *file = sf_open(path, SFM_WRITE, &info);
    int fine = file != NULL && sf_write_short(file, samples, COUNT) == COUNT;
    fine = (file == NULL || sf_close(file) == 0) && fine;
    if (!fine) {
        fprintf(stderr, "cannot write %s\n", path);
    }
    return fine;
}

int main(int argc, char **argv) {
    static const int slow[] = {0, 99, 7, 3, 5, 99, 3, 99, -2, 99, 3, 2, 0, 99, 99, 99};
    static const int fast[] = {12, 7, 12, 15, 14, 10, 7, 10, 12, 7, 3, 7, 5, 2, -2, 2};
    static const double strokes[][2] = {{0.9, 1},   {2.1, 0.7},  {4.6, 1},  {5.6, 0.6}, {6.4, 0.45},
                                        {9.2, 0.9}, {10.5, 0.7}, {13.1, 1}, {13.9, 0.5}};
    if (argc != 2) {
        fprintf(stderr, "usage: demo_sounds FOLDER\n");
        return 2;
    }
    state = 1871;
    swell(0.25, 5.5);
    for (size_t i = 0; i < sizeof strokes / sizeof *strokes; i++) {
        stroke(strokes[i][0], strokes[i][1]);
    }
    int fine = save(argv[1], "bell.wav");
    swell(0.9, 6.5);
    fine = save(argv[1], "waves.wav") && fine;
    tune(84, slow, 16, 0.5);
    fine = save(argv[1], "slow.wav") && fine;
    tune(132, fast, 16, 0.22);
    fine = save(argv[1], "fast.wav") && fine;
    return fine ? 0 : 1;
}
