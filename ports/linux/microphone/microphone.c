/* SPDX-License-Identifier: MIT */
/* A microphone for the desk. */
#include <alsa/asoundlib.h>
#include <errno.h>
#include <math.h>
#include <samplerate.h>
#include <sndfile.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/microphone.h>

#define LONGEST_S 7200 /* of a file */
#define BLOCK 4096

struct glanz_microphone {
    int16_t *samples; /* of a file, all of it */
    size_t count, at;
    FILE *pipe;
    snd_pcm_t *device;
    char note[160];
};

static struct glanz_microphone *refuse(struct glanz_microphone *microphone, struct glanz_fault *fault, const char *what,
                                       const char *why) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, what);
    glanz_fault_add(fault, why);
    glanz_microphone_close(microphone);
    return NULL;
}

/* The first channel of a file as numbers from -1 to 1. @return how many; NULL in `samples` where memory is short. */
static size_t read_channel(float **samples, SNDFILE *file, const SF_INFO *info) {
    float *block = (float *)malloc(sizeof *block * BLOCK * (size_t)info->channels);
    float *all = (float *)malloc(sizeof *all * ((size_t)info->frames + 1u));
    size_t count = 0;
    sf_count_t got = 0;
    while (block != NULL && all != NULL && (got = sf_readf_float(file, block, BLOCK)) > 0) {
        for (sf_count_t i = 0; i < got && count < (size_t)info->frames; i++) {
            all[count++] = block[i * info->channels];
        }
    }
    if (block == NULL) {
        free(all);
        all = NULL;
    }
    free(block);
    *samples = all;
    return count;
}

static int16_t rounded(float x) {
    long y = lrintf(x * 32768.0f);
    return (int16_t)(y > 32767 ? 32767 : y < -32768 ? -32768 : y);
}

/* @return 0: memory is short, or it cannot be resampled. */
static int take_samples(struct glanz_microphone *microphone, const float *from, size_t count, double ratio) {
    size_t most = (size_t)((double)count * ratio) + 16u;
    float *to = (float *)malloc(sizeof *to * most);
    microphone->samples = (int16_t *)malloc(sizeof *microphone->samples * most);
    int fine = to != NULL && microphone->samples != NULL;
    if (fine && ratio != 1) {
        SRC_DATA data = {
            .data_in = from, .data_out = to, .input_frames = (long)count, .output_frames = (long)most, .src_ratio = ratio};
        fine = src_simple(&data, SRC_SINC_MEDIUM_QUALITY, 1) == 0;
        count = fine ? (size_t)data.output_frames_gen : 0;
        from = to;
    }
    for (size_t i = 0; fine && i < count; i++) {
        microphone->samples[i] = rounded(from[i]);
    }
    microphone->count = fine ? count : 0;
    free(to);
    return fine;
}

static struct glanz_microphone *open_file(struct glanz_microphone *microphone, const char *path, uint32_t rate_hz,
                                          struct glanz_fault *fault) {
    SF_INFO info;
    char log[4096] = "";
    memset(&info, 0, sizeof info);
    SNDFILE *file = sf_open(path, SFM_READ, &info);
    if (file == NULL) {
        return refuse(microphone, fault, "cannot be read as sound: ", sf_strerror(NULL));
    }
    if (info.frames <= 0 || info.samplerate < 4000 || info.samplerate > 768000 ||
        info.frames > (sf_count_t)LONGEST_S * info.samplerate) {
        sf_close(file);
        return refuse(microphone, fault,
                      info.frames <= 0 ? "has no sound in it" : "is longer than two hours, or of a strange rate",
                      "; expected a sound file such as a WAV");
    }
    float *samples = NULL;
    size_t count = read_channel(&samples, file, &info);
    (void)sf_command(file, SFC_GET_LOG_INFO, log, sizeof log);
    sf_close(file);
    if (count < (size_t)info.frames || strstr(log, "should be") != NULL || strstr(log, "truncated") != NULL) {
        snprintf(microphone->note, sizeof microphone->note, "is cut off: it says more than the %.3f s that are there",
                 (double)count / info.samplerate);
    }
    int fine = samples != NULL && count != 0 && take_samples(microphone, samples, count, (double)rate_hz / info.samplerate);
    free(samples);
    return fine ? microphone : refuse(microphone, fault, "has no sound that could be taken", "");
}

static struct glanz_microphone *open_device(struct glanz_microphone *microphone, const char *name, uint32_t rate_hz,
                                            struct glanz_fault *fault) {
    int code = snd_pcm_open(&microphone->device, name, SND_PCM_STREAM_CAPTURE, 0);
    if (code >= 0) {
        code = snd_pcm_set_params(microphone->device, SND_PCM_FORMAT_S16, SND_PCM_ACCESS_RW_INTERLEAVED, 1, rate_hz, 1, 20000);
    }
    return code >= 0 ? microphone : refuse(microphone, fault, "cannot be opened as a sound device: ", snd_strerror(code));
}

struct glanz_microphone *glanz_microphone_open(const char *path, uint32_t rate_hz, struct glanz_fault *fault) {
    struct glanz_microphone *microphone = (struct glanz_microphone *)calloc(1, sizeof *microphone);
    if (microphone == NULL || path == NULL || rate_hz == 0) {
        return refuse(microphone, fault, "cannot be opened", "");
    }
    if (strcmp(path, "-") == 0) {
        microphone->pipe = stdin;
        return microphone;
    }
    if (strncmp(path, "alsa:", 5) == 0) {
        return open_device(microphone, path + 5, rate_hz, fault);
    }
    return open_file(microphone, path, rate_hz, fault);
}

static size_t read_pipe(FILE *pipe, int16_t *samples, size_t count) {
    size_t done = 0;
    uint8_t bytes[2];
    while (done < count && fread(bytes, 1, 2, pipe) == 2) {
        uint16_t sample = (uint16_t)(bytes[0] | bytes[1] << 8);
        memcpy(&samples[done++], &sample, sizeof sample);
    }
    return done;
}

static size_t read_device(struct glanz_microphone *microphone, int16_t *samples, size_t count) {
    size_t done = 0;
    while (done < count) {
        snd_pcm_sframes_t got = snd_pcm_readi(microphone->device, samples + done, count - done);
        if (got < 0 && snd_pcm_recover(microphone->device, (int)got, 1) < 0) {
            break;
        }
        done += got > 0 ? (size_t)got : 0;
    }
    return done;
}

size_t glanz_microphone_read(struct glanz_microphone *microphone, int16_t *samples, size_t count) {
    if (microphone == NULL || samples == NULL) {
        return 0;
    }
    if (microphone->pipe != NULL) {
        return read_pipe(microphone->pipe, samples, count);
    }
    if (microphone->device != NULL) {
        return read_device(microphone, samples, count);
    }
    size_t left = microphone->count - microphone->at;
    count = count < left ? count : left;
    memcpy(samples, microphone->samples + microphone->at, count * sizeof *samples);
    microphone->at += count;
    return count;
}

size_t glanz_microphone_length(const struct glanz_microphone *microphone) {
    return microphone == NULL ? 0 : microphone->count;
}

const char *glanz_microphone_note(const struct glanz_microphone *microphone) {
    return microphone == NULL || microphone->note[0] == '\0' ? NULL : microphone->note;
}

void glanz_microphone_close(struct glanz_microphone *microphone) {
    if (microphone != NULL) {
        if (microphone->device != NULL) {
            snd_pcm_close(microphone->device);
        }
        free(microphone->samples);
        free(microphone);
    }
}
