/* SPDX-License-Identifier: MIT */
/* Writes the golden scenarios as documents into a folder: NAME.rig.json, NAME.show.json, sometimes NAME.inputs.jsonl, and a
 * line "NAME FRAMES" for each on standard output. For every effect on a strip and on a ring, every effect for fields on panels
 * too, every way to lie over a surface, every chip, and every kind of change. usage: scenarios FOLDER */
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

#include <glanz/glanz.h>

static const char *folder;

/* Write a text with ' for " to FOLDER/NAME.KIND. */
static void put(const char *name, const char *kind, const char *format, ...) {
    static char text[65536];
    char path[512];
    va_list list;
    va_start(list, format);
    vsnprintf(text, sizeof text, format, list);
    va_end(list);
    snprintf(path, sizeof path, "%s/%s.%s", folder, name, kind);
    FILE *file = fopen(path, "w");
    for (const char *c = text; file != NULL && *c != '\0'; c++) {
        fputc(*c == '\'' ? '"' : *c, file);
    }
    if (file != NULL) {
        fclose(file);
    }
}

static void name_of(char *name, const char *kind, const char *what) {
    sprintf(name, "%s_%s", kind, what);
    for (char *c = name; *c != '\0'; c++) {
        *c = (char)(*c >= 'A' && *c <= 'Z' ? *c + 32 : (*c >= 'a' && *c <= 'z') || (*c >= '0' && *c <= '9') ? *c : '_');
    }
}

/* What the look of an effect says beside its name. */
static const char *needs_of(GLANZ_CONST struct glanz_effect *effect) {
    static const char *const contents[] = {
        "", ",'blocks':'3 #ffb000, 1 2900 K, 2 #008f8a','speed':'2.5 leds/s'",
        ",'text':'Fl\xC3\xB6\xC3\x9F {time} \xE2\x82\xAC','font':'buoy','colored':'letter by letter','palette':'net "
        "floats','clear':true,'speed':"
        "'7.3 leds/s'",
        ",'picture':'boat','way':'leftward','turned':'90 deg','speed':'5.1 leds/s'",
        ",'marks':[{'first':3,'leds':9,'color':'#f80'},{'left':2,'top':0,'columns':3,'rows':4,'color':'3000 K'}]"};
    return effect->content != GLANZ_CONTENT_NONE         ? contents[effect->content]
           : (effect->needs & GLANZ_NEEDS_GRADIENT) != 0 ? ",'palette':'oil film'"
                                                         : "";
}

#define BOAT                                                                                                                   \
    "'pictures':{'boat':{'rows':['..w..','.ww..','.www.','bbbbb','.bbb.'],'colors':{'w':'#fff0d0','b':'hsl(210 80%% "          \
    "35%%)'}}},"

/* Two panels, one turned and seen from the back, on two outputs; under the look a plain one, so that cover counts. */
static void put_field(GLANZ_CONST struct glanz_effect *effect) {
    char name[64];
    name_of(name, "field", effect->name);
    put(name, "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'900 mA'}},'outputs':{'o':{'pin':1,'supply':'s','trim':'90 "
        "%%','line':[{"
        "'chip':'WS2812B','leds':80}]},'q':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':60,'trim':{'green':'91 "
        "%%'}}]}},"
        "'surfaces':{'a':{'grid':[{'output':'o','first':3,'columns':9,'rows':8,'first led':'bottom right','along':'columns',"
        "'zigzag':true},{'name':'right','output':'q','first':0,'columns':8,'rows':7,'turned':'90 deg','mirrored':true,'left':9,"
        "'zigzag':true}]}}}");
    put(name, "show.json",
        "{'show':'g','brightness':'85 %%'," BOAT
        "'looks':{'l':{'effect':'%s'%s},'u':{'effect':'plain','color':'#102030'}},'segments':{"
        "'v':{'surface':'a','look':'u'},'s':{'surface':'a','look':'l'},'t':{'surface':'a','part':'right','turned':'90 deg',"
        "'reversed':true,'grain':2,'blend':'add','look':'l'}},'stack':['v','s','t']}",
        effect->name, needs_of(effect));
    printf("%s 300\n", name);
}

/* Effects for lines and for fields, lying every way over free points and rings of rings. */
static void put_lies(void) {
    put("lies", "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':64}]}},"
        "'surfaces':{'p':{'points':[{'output':'o','first':30,'leds':12,'reversed':true}],'drawing':['..012..','.b...3.','.a..."
        "4.',"
        "'9..8.65','...7...']},'r':{'rings':[{'name':'outer','output':'o','first':0,'leds':16},{'output':'o','first':16,'leds':"
        "8,"
        "'counterclockwise':true,'start':'45 deg','radius':'1.4 leds'}]},'q':{'points':[{'output':'o','first':42,'leds':3}],"
        "'places':[[0,0],[2.5,1],[4.125,0.5]]},'c':{'grid':[{'output':'o','first':45,'columns':6,'rows':3}],'joined':true}}}");
    put("lies", "show.json",
        "{'show':'g','signals':{'w':{'wave':'triangle','period':'1.7 s'}},'looks':{'f':{'effect':'flow','palette':'full "
        "circle','span':'100 %%','speed':'0.4 lengths/s'},'k':{'effect':"
        "'comet','tail':'3 leds','speed':'4 leds/s'},'n':{'effect':'clouds','speed':'2 s/pass'},'x':{'effect':'text','text':'8 "
        "x',"
        "'font':'buoy'}},'segments':{'p1':{'surface':'p','look':'f'},'p2':{'surface':'p','look':'k','lies':'around','blend':'"
        "add'},"
        "'p3':{'surface':'p','look':'f','lies':'outward','opacity':'40 "
        "%%'},'p4':{'surface':'p','look':'k','lies':'along','blend':"
        "'lighter'},'r1':{'surface':'r','look':'f','lies':'around'},'r2':{'surface':'r','part':'outer','look':'k','blend':'add'"
        "},"
        "'r3':{'surface':'r','look':'n','lies':'around','blend':'add','opacity':'50 "
        "%%'},'q1':{'surface':'q','look':'f','turned':'90 deg'},"
        "'c1':{'surface':'c','look':'f','lies':'rows'},'c2':{'surface':'c','left':1,'top':0,'columns':4,'rows':2,'look':'k','"
        "lies':"
        "'columns','blend':'add'},'c3':{'surface':'c','look':'x','blend':'multiply'},'c4':{'surface':'c','look':'n','blend':'"
        "lighter',"
        "'mirrored':true},'p5':{'surface':'p','look':'k','lies':'slanted','bearing':'30 "
        "deg','blend':'add'},'r4':{'surface':'r',"
        "'look':'f','lies':'slanted','bearing':{'follows':'w','from':'-40 deg','to':'400 "
        "deg'},'opacity':{'follows':'w','from':'20 "
        "%%','to':'80 %%'}},'c5':{'surface':'c','look':'k','lies':'slanted','mirrored':true,'bearing':{'follows':'w','from':'0 "
        "deg','to':'-120 deg'},'blend':'add'}},'stack':['p1','p2','p3','p4','r1','r2','r3','q1','c1','c2','c3','c4','p5','r4','"
        "c5']}");
    printf("lies 400\n");
}

static void put_effect(GLANZ_CONST struct glanz_effect *effect, int closed) {
    char name[64];
    name_of(name, closed ? "ring" : "strip", effect->name);
    put(name, "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'300 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{"
        "'chip':'WS2812B','leds':57,'trim':{'green':'91 %%','blue':'83 %%'}}]}},"
        "'surfaces':{'a':{'%s':[{'output':'o','first':3,'leds':50,'reversed':%s}]}}}",
        closed ? "ring" : "strip", closed ? "true" : "false");
    put(name, "show.json",
        "{'show':'g','brightness':'85 %%'," BOAT "'looks':{'l':{'effect':'%s'%s}},'segments':{'s':{'surface':'a','look':'l'}}}",
        effect->name, needs_of(effect));
    printf("%s 400\n", name);
}

static void put_chip(GLANZ_CONST struct glanz_chip *chip, int number) {
    char name[64];
    name_of(name, "chip", chip->name);
    put(name, "rig.json",
        "{'rig':'g','lowest blink':'%s','supplies':{'s':{'volts':'5 V','limit':'1 A'}},'outputs':{'o':{'pin':1,%s"
        "'supply':'s','line':[{'chip':'%s','leds':40%s}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':40}]}}}",
        number % 2 ? "none" : "30 Hz", chip->protocol == GLANZ_CLOCKED ? "'clock pin':2," : "", chip->name,
        chip->channels == 4 ? ",'white':'4000 K'" : "");
    put(name, "show.json",
        "{'show':'g','looks':{'l':{'effect':'flow','palette':'full circle','speed':'0.3 lengths/s'},"
        "'m':{'effect':'breathing','speed':'3 s/pass','low':'0 %%'}},'segments':{'s':{'surface':'a','look':'l'},'t':{"
        "'surface':'a','stencil':'take 2, leave 3, take 1, leave 1','blend':'multiply','opacity':'70 %%','look':'m'}},"
        "'stack':['s','t']}");
    printf("%s 400\n", name);
}

static void put_changes(const char *name) {
    put(name, "rig.json",
        "{'rig':'test','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B',"
        "'leds':45}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':45}]}},"
        "'inputs':{'k':{'button':{'pin':2,'pressed':'low'}},'v':{'value':{'pin':3}}}}");
    put(name, "show.json",
        "{'show':'g','change':'400 ms','colors':{'c':'hsl(30 90%% 40%%)'},'palettes':{'p':{'stops':[{'at':'0 %%','color':"
        "'c'},{'at':'30 %%','color':'#000'},{'at':'100 %%','color':'9000 K'}],'between':'even'}},'looks':{'a':{'effect':"
        "'comet','color':'c','way':'there and back'},'b':{'effect':'flow','palette':'p','span':'20 leds'},'c':{'effect':"
        "'twinkle','palette':'p','share':'80 %%'},'d':{'effect':'escort','gap':'3.3 leds','speed':'-7 leds/s'},"
        "'e':{'effect':'comet','color':'#08f','tail':'9 leds','way':'there and back','speed':'50 leds/s'}},"
        "'segments':{'s':{'surface':'a','look':'a','grain':2,'mirrored':true},'t':{'surface':'a','first':10,'leds':11,"
        "'blend':'add','look':'d'}},'stack':['s','t'],'presets':{'one':{'s':'b','t':{'on':false}},'two':{'s':'c','t':{"
        "'on':true,'brightness':'40 %%'}},'three':{'s':'d'},'four':{'s':'a'},'five':{'s':'e'}},'playlists':{'l':{'items':"
        "[{'preset':'one','hold':'700 ms','fade':'300 ms'},{'preset':'two','hold':'0.5 s','fade':'1 s'},{'preset':'three',"
        "'hold':'1 s'}]}},'triggers':{'p':{'when':{'button':'k','is':'pressed once'},'do':[{'play':'l'}]},'q':{'when':{"
        "'button':'k','is':'pressed twice'},'do':[{'next':'l'}]},'h':{'when':{'button':'k','is':'held'},'do':[{"
        "'brightness':'20 %%','over':'1 s'}]},"
        "'v1':{'when':{'value':'v','rises above':'10 %%'},'do':[{'recall':'one','over':'900 ms'}]},"
        "'v2':{'when':{'value':'v','rises above':'30 %%'},'do':[{'recall':'two','over':'900 ms'}]},"
        "'v3':{'when':{'value':'v','rises above':'50 %%'},'do':[{'recall':'three','over':'900 ms'}]},"
        "'v4':{'when':{'value':'v','rises above':'70 %%'},'do':[{'recall':'four','over':'900 ms'}]},"
        "'v5':{'when':{'value':'v','rises above':'90 %%'},'do':[{'recall':'five','over':'700 ms'}]}}}");
}

/* Playlists within playlists, shuffled, timed, with gaps and what follows; a calendar that begins a second after the start, at
 * noon; what hands do to them. While it runs, replay.c saves, copies, forgets and recalls presets. */
static void put_sequences(const char *name, const char *start) {
    put(name, "rig.json",
        "{'rig':'test','place':{'latitude':'53.9312 N','longitude':'8.6041 E'},'supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,"
        "'supply':'s','line':[{'chip':'WS2812B','leds':40}]},'u':{'pin':2,'supply':'s','line':[{'chip':'SK6812-RGBW','leds':12}"
        "]}},"
        "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':40}]},'b':{'ring':[{'output':'u','first':0,'leds':12}]}},"
        "'inputs':{'k':{'button':{'pin':2,'pressed':'low'}},'v':{'value':{'pin':3}}}}");
    char show[4000];
    snprintf(
        show, sizeof show,
        "{'show':'g','change':'300 ms','resume':true,'looks':{'a':{'effect':'comet','way':'there and "
        "back'},'b':{'effect':'flow','palette':"
        "'ice floe'},'c':{'effect':'motley','palette':'net floats'},'d':{'effect':'plain','color':'#ff8000'}},"
        "'segments':{'s':{'surface':'a','look':'a'},'t':{'surface':'b','look':'d'}},"
        "'presets':{'one':{'s':'b'},'two':{'s':{'look':'c','brightness':'60 "
        "%%%%'}},'three':{'s':{'look':'d','on':true},'t':{'on':false}},"
        "'four':{'t':{'on':true,'look':'b'}},'five':{'s':{'palette':'full circle'}}},"
        "'playlists':{'in':{'rounds':2,'shuffled':true,'then':'back','items':[{'preset':'one','hold':'150 ms','fade':'100 "
        "ms'},{'preset':'two',"
        "'hold':'250 ms'},{'preset':'three','hold':'90 ms','fade':'200 ms'},{'preset':'five','hold':'200 ms'}]},"
        "'timed':{'rounds':2,'then':'dark','then fade':'300 ms','items':[{'preset':'two','at':'0 s'},{'preset':'one','at':'0.7 "
        "s','fade':'200 ms'},"
        "{'preset':'three','at':'1.3 s','hold':'400 ms'}]},'ring':{'items':[{'preset':'four','hold':'600 ms','fade':'300 "
        "ms'},{'dark':true,'hold':"
        "'200 ms','fade':'100 ms'}]},"
        "'out':{'rounds':2,'then':{'preset':'four'},'items':[{'playlist':'in'},{'dark':true,'hold':'120 "
        "ms'},{'playlist':'timed','hold':'1 s'},"
        "{'preset':'one','hold':'200 ms','fade':'400 ms'}]}},"
        "'calendar':{'noon':{'preset':'two','at':'12:00','for':'3 s','fade':'500 "
        "ms'},'each':{'playlist':'ring','at':'11:00','until':'13:00','every':"
        "'1 min','for':'2 "
        "s','priority':2},'sun':{'preset':'four','at':'sunrise','until':'sunset','days':['thursday','friday','saturday']}},"
        "'start':{%s},'triggers':{'p':{'when':{'button':'k','is':'pressed'},'do':[{'next':'out'}]},'t':{'when':{'button':'k','"
        "is':'pressed twice'},"
        "'do':[{'undo':true,'over':'200 ms'}]},'h':{'when':{'button':'k','is':'held'},'do':[{'sleep':'2 s'}]},"
        "'v1':{'when':{'value':'v','rises above':'20 %%%%'},'do':[{'pause':'out'},{'take "
        "over':'s','aspects':['palette','brightness']}]},"
        "'v2':{'when':{'value':'v','rises above':'50 %%%%'},'do':[{'pause':'out','on':false},{'hand "
        "back':'s','aspects':['palette','brightness']}]},"
        "'v3':{'when':{'value':'v','rises above':'80 %%%%'},'do':[{'jump':'out','item':3},{'random':'in'}]}}}",
        start);
    put(name, "show.json", show);
    put(name, "inputs.jsonl",
        "{'at':'1600 ms','input':'k','level':0}\n{'at':'1680 ms','input':'k','level':1}\n{'at':'2 "
        "s','input':'v','level':20000}\n"
        "{'at':'2700 ms','input':'v','level':40000}\n{'at':'3200 ms','input':'k','level':0}\n{'at':'3290 "
        "ms','input':'k','level':1}\n"
        "{'at':'3400 ms','input':'k','level':0}\n{'at':'3480 ms','input':'k','level':1}\n{'at':'4500 "
        "ms','input':'v','level':60000}\n"
        "{'at':'6 s','input':'k','level':0}\n{'at':'6900 ms','input':'k','level':1}\n{'at':'9 s','input':'k','level':0}\n"
        "{'at':'9100 ms','input':'k','level':1}\n");
    printf("%s 1200\n", name);
}

/* Everything that hands do to that rig by lot, or nearly. */
static void put_hands(const char *name, uint32_t seed) {
    static const char *const names[] = {"d", "w", "g", "n", "m", "k", "v"};
    static const int gray[4] = {0, 1, 3, 2};
    static char lines[60000];
    size_t used = 0;
    int turned[2] = {0, 0};
    for (uint32_t i = 0; i < 700; i++) {
        uint32_t drawn = glanz_hash2(seed, i);
        uint32_t which = drawn % 7u;
        uint32_t level = which == 0   ? (i * 331u + (drawn >> 20)) & 0xFFFFu
                         : which == 1 ? (65536u - i * 190u) & 0xFFFFu
                         : which == 2 ? 30000u + (i / 40u % 2u) * 20000u + (drawn >> 22)
                         : which == 5 ? drawn >> 16 & 1u
                                      : drawn >> 16;
        if (which == 3 || which == 4) {
            turned[which - 3] += (drawn & 0x7000u) != 0 ? 1 : -1;
            level = (uint32_t)gray[turned[which - 3] & 3];
        }
        used += (size_t)snprintf(lines + used, sizeof lines - used, "{'at':'%u us','input':'%s','level':%u}\n",
                                 1000000u + i * 9700u + (drawn & 0xFFFu), names[which], (unsigned)level);
    }
    put(name, "inputs.jsonl", lines);
    printf("%s 900\n", name);
}

/* A dial, a vane that lags, a noisy gauge, two knobs that bounce, a button; every wave, the clock, combinations; drives of
 * every kind of number by every curve. */
static void put_signals(void) {
    put("signals", "rig.json",
        "{'rig':'test','supplies':{'s':{'volts':'5 V','limit':'400 "
        "mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':40}]},"
        "'u':{'pin':2,'supply':'s','line':[{'chip':'SK6812-RGBW','leds':24}]}},'surfaces':{'a':{'strip':[{'output':'o','first':"
        "0,'leds':40}]},'b':{"
        "'ring':[{'output':'u','first':0,'leds':24}]}},'inputs':{'d':{'dial':{'pin':3}},'w':{'dial':{'pin':4,'zero':'77 "
        "deg','reversed':true,'lag':'120 ms'}},"
        "'g':{'sensor':{'pin':5,'low':'5 %%','high':'93 %%','lag':'50 ms'}},'n':{'knob':{'pin':6,'second "
        "pin':7,'steps':9}},'m':{'knob':{'pin':8,'second pin':9,"
        "'steps':5,'edges':1,'endless':true,'reversed':true}},'k':{'button':{'pin':10,'pressed':'low'}},'v':{'value':{'pin':11}"
        "}}}");
    put("signals", "show.json",
        "{'show':'g','brightness':'70 %%','change':'300 ms','signals':{'sine':{'wave':'sine','period':'900 "
        "ms'},'triangle':{'wave':'triangle','period':'1.3 s',"
        "'phase':'90 deg'},'saw':{'wave':'saw','period':'700 ms','low':'80 %%','high':'10 "
        "%%'},'square':{'wave':'square','period':'450 ms'},'wander':{'wave':"
        "'wander','period':'600 "
        "ms'},'minute':{'clock':'minute'},'year':{'clock':'year'},'sum':{'combine':'sum','of':'sine','and':'v'},'product':{'"
        "combine':"
        "'product','of':'wander','and':'g'},'ratio':{'combine':'ratio','of':'g','and':'sine'}},'looks':{"
        "'needle':{'effect':'needle','color':{'follows':'wander','from':'hsl(20 100%% 50%%)','to':'hsl(300 80%% "
        "60%%)'},'background':{'follows':'g','from':"
        "'#000000','to':'#003040','rise':'200 ms','fall':'20 ms'},'bearing':{'follows':'d','from':'0 deg','to':'360 "
        "deg','rise':'30 ms','fall':'30 ms'},'width':{"
        "'follows':'n','from':'1 leds','to':'9 leds','curve':'early'}},"
        "'vane':{'effect':'needle','color':'2700 K','bearing':{'follows':'w','from':'90 deg','to':'-630 "
        "deg'},'brightness':{'follows':'square','from':'5 %%','to':"
        "'100 %%','rise':'100 ms','fall':'300 ms','curve':'gentle'}},"
        "'hand':{'effect':'needle','bearing':{'follows':'minute','from':'0 deg','to':'360 "
        "deg'},'color':{'follows':'year','from':'#ff0000','to':'#0000ff'}},"
        "'run':{'effect':'walker','size':'4 leds','speed':{'follows':'sine','from':'-30 leds/s','to':'30 leds/s','rest':'20 "
        "%%','rise':'0 ms','fall':'0 ms'}},"
        "'wave':{'effect':'swell','speed':{'follows':'sum','from':'2 lengths/s','to':'-1 lengths/s','curve':'late','begins "
        "at':'20 %%','ends at':'90 %%'},"
        "'background':{'follows':'saw','from':'#200000','to':'hsl(200 90%% 40%%)'}},"
        "'lamp':{'effect':'breathing','low':{'follows':'product','from':'90 %%','to':'5 "
        "%%','curve':'steps','steps':4},'speed':{'follows':'m','from':"
        "'0.2 passes/s','to':'3 passes/s'},'color':{'follows':'k','from':'#102030','to':'#ffffff','rise':'10 ms','fall':'900 "
        "ms'}}},"
        "'segments':{'s':{'surface':'a','first':0,'leds':20,'look':'run'},'t':{'surface':'a','first':20,'leds':20,'look':'lamp'"
        "},'r':{'surface':'b','look':'needle'}},"
        "'presets':{'one':{'s':'wave','r':'vane'},'two':{'s':'run','t':'lamp','r':'hand'},'three':{'r':'needle','t':'wave'}},"
        "'triggers':{'a':{'when':{'value':'triangle','rises above':'60 "
        "%%'},'do':[{'recall':'one'}]},'b':{'when':{'value':'saw','falls below':'40 %%'},'do':[{"
        "'brightness':'50 %%','segment':'t','over':'200 ms'}]},'c':{'when':{'value':'d','rises above':'50 "
        "%%'},'do':[{'recall':'two','over':'500 ms'}]},'e':{'when':{"
        "'value':'ratio','falls below':'30 %%'},'do':[{'recall':'three','over':'150 "
        "ms'}]},'f':{'when':{'value':'square','rises above':'50 %%'},'do':[{'brightness':"
        "'90 %%','segment':'t'}]}}}");
    put_hands("signals", 20264);
}

/* Gestures of every kind, with margins, waits and turns; actions on numbers, for a time, by taps, on what stands still. */
static void put_gestures(void) {
    put("gestures", "rig.json",
        "{'rig':'test','supplies':{'s':{'volts':'5 V','limit':'300 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':50}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]},'b':{'ring':[{'output':'o',"
        "'first':30,'leds':20}]}},'inputs':{'d':{'dial':{'pin':3}},'w':{'dial':{'pin':4,'lag':'80 ms'}},'g':{'sensor':{'pin':5,"
        "'lag':'30 ms','lost after':'250 ms','lost is':'60 %%'}},'n':{'knob':{'pin':6,'second pin':7,'steps':9}},'m':{'knob':{"
        "'pin':8,'second pin':9,'steps':5,'edges':1,'endless':true}},'k':{'button':{'pin':10,'pressed':'low','settle':'2 ms',"
        "'repeats after':'70 ms','held after':'60 ms','together within':'400 ms'}},'v':{'value':{'pin':11}},'j':{'button':{"
        "'pin':12,'pressed':'high'}}}}");
    put("gestures", "show.json",
        "{'show':'g','brightness':'80 %%','change':'200 ms','signals':{'swell':{'wave':'sine','period':'800 "
        "ms'},'beat':{'wave':"
        "'triangle','period':'150 ms'}},'palettes':{'p':{'stops':[{'at':'0 %%','color':'#001040'},{'at':'100 %%','color':"
        "'#ff8040'}]},'q':{'stops':[{'at':'0 %%','color':'#400000'},{'at':'50 %%','color':'#00ff40'},{'at':'100 %%','color':"
        "'#ffffff'}]}},'looks':{'run':{'effect':'walker','size':'4 leds','speed':'12 "
        "leds/s','color':'#ff4020'},'flow':{'effect':"
        "'flow','palette':'p','speed':'0.4 lengths/s'},'lamp':{'effect':'breathing','low':'10 %%','speed':'900 "
        "ms/pass'},'knots':"
        "{'effect':'pattern','blocks':'2 #ff0000, 3 #0000ff','speed':'5 leds/s'},'ropes':{'effect':'pattern','blocks':"
        "'1 #00ff00, 4 #202020','speed':'-3 "
        "leds/s'}},'segments':{'s':{'surface':'a','look':'run'},'r':{'surface':'b','look':'flow'"
        "}},'presets':{'one':{'s':'knots','r':'lamp'},'two':{'s':{'brightness':'40 "
        "%%'}},'three':{'s':'run','r':'flow'}},'triggers'"
        ":{'a':{'when':{'value':'d','is':'turned up'},'do':[{'adjust':'s','number':'speed','by':'3 "
        "leds/s'}]},'b':{'when':{'value':"
        "'d','is':'turned down'},'do':[{'adjust':'s','number':'speed','times':'-80 %%','over':'50 "
        "ms'}]},'c':{'when':{'value':'n',"
        "'is':'turned up'},'do':[{'another palette':'random','segment':'r'}]},'e':{'when':{'value':'m','is':'turned up "
        "fast'"
        "},'not again within':'300 ms','do':[{'another look':'next','segment':'s'},{'another preset':'next'},{'clear "
        "all':true}],"
        "'by turns':true},'f':{'when':{'value':'w','enters':'20 %%','to':'60 %%','margin':'2 "
        "%%'},'do':[{'palette':'q','segment':"
        "'r','for':'400 ms'}]},'h':{'when':{'value':'beat','leaves':'40 %%','to':'60 "
        "%%'},'do':[{'tap':'r'}]},'i':{'when':{'value':"
        "'swell','stays above':'70 %%','for':'120 ms'},'while':[{'value':'d','above':'50 "
        "%%'}],'do':[{'content':'ropes','segment':"
        "'s','for':'250 ms'}]},'l':{'when':{'value':'g','is':'lost'},'do':[{'brightness':'30 %%','for':'200 "
        "ms'}]},'o':{'when':{"
        "'value':'g','is':'back'},'do':[{'begin "
        "again':'s'}]},'p':{'when':{'button':'k','is':'repeats'},'do':[{'freeze':true,'on':"
        "'other'}]},'q':{'when':{'button':'k','unchanged for':'200 ms'},'do':[{'step':true},{'freeze':true,'on':false}]},'r':{"
        "'when':{'value':'v','rises above':'50 %%','margin':'30 %%'},'do':[{'recall':'two','for':'350 "
        "ms'},{'adjust':'r','number':"
        "'low','to':'50 %%'}]},'t':{'when':{'value':'v','stays below':'40 %%','for':'100 ms'},'do':[{'undo':true}]}}}");
    put_hands("gestures", 3);
}

/* Two microphones at other rates with other bands; every kind of signal of sound; all looks on sound, on lines and in fields.
 */
static void put_sounds(void) {
    put("sounds", "rig.json",
        "{'rig':'test','supplies':{'s':{'volts':'5 V','limit':'900 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':190}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]},'b':{'ring':[{'output':'o',"
        "'first':30,'leds':24}]},'c':{'grid':[{'output':'o','first':54,'columns':17,'rows':8,'first led':'top left','along':"
        "'rows','zigzag':true}]}},'inputs':{'m':{'sound':{'pin':3,'rate':'16 "
        "kHz','bands':12,'hum':'50 Hz'}},'k':{'button':{'pin':10,'pressed':"
        "'low'}},'n':{'sound':{'pin':4,'rate':'22.05 kHz','bands':3,'from':'80 Hz','to':'9 kHz','span':'48 dB','loudest':'12 "
        "dB',"
        "'gate':'60 dB','rise':'10 ms','fall':'200 ms','silence':'300 ms'}}}}");
    put("sounds", "show.json",
        "{'show':'g','change':'300 "
        "ms','signals':{'beat':{'sound':'beat','of':'m'},'on':{'sound':'onset','of':'m'},'low':{'sound':"
        "'low onset','of':'m'},'mid':{'sound':'middle onset','of':'n'},'top':{'sound':'high "
        "onset','of':'n'},'b3':{'sound':'band',"
        "'of':'m','band':3},'b':{'sound':'band','of':'n','band':3},'note':{'sound':'note','of':'n'},'pitch':{'sound':'pitch','"
        "of':"
        "'n'},'tempo':{'sound':'tempo','of':'m'},'trust':{'sound':'trust','of':'m'},'quiet':{'sound':'silence','of':'n'},'gone'"
        ":"
        "{'sound':'gone','of':'n'},'peak':{'sound':'peak','of':'m'},'high':{'sound':'high','of':'m'},'clip':{'sound':'clipping'"
        ","
        "'of':'m'}},"
        "'looks':{'c':{'effect':'columns'},'d':{'effect':'columns','from':'middle','hears':'n','colored "
        "by':'band'},'e':{'effect':"
        "'columns','from':'top','peaks':false},'l':{'effect':'loudness','marks':6},'v':{'effect':'waveform'},'m':{'effect':'"
        "loudness','from':'middle',"
        "'hears':'n'},'s':{'effect':'sonogram'},'t':{'effect':'throb','at':'beat'},'u':{'effect':'throb','at':'low','color':"
        "{'follows':'note','from':'hsl(0 100%% 50%%)','to':'hsl(360 100%% "
        "50%%)'}},'p':{'effect':'sparks','at':'on'},'q':{'effect':"
        "'sparks','at':'top','part':'30 "
        "%%'},'h':{'effect':'hoppers','at':'beat'},'i':{'effect':'hoppers','at':'mid','count':3},"
        "'f':{'effect':'fountain','fires at':'on'},'w':{'effect':'walker','size':'3 leds','speed':{'follows':'m','from':'-9 "
        "leds/s'"
        ",'to':'30 "
        "leds/s'},'color':{'follows':'pitch','from':'#2040ff','to':'#ff4020'},'brightness':{'follows':'b3','from':'20 %%',"
        "'to':'100 "
        "%%'}}},'segments':{'x':{'surface':'a','look':'w'},'y':{'surface':'b','look':'t'},'z':{'surface':'c','look':'c'}}"
        ",'presets':{'1':{'x':'l','y':'h','z':'d'},'2':{'x':'v','y':'p','z':'s'},'3':{'x':'p','y':'m','z':'h'},'4':{'x':'c','y'"
        ":"
        "'l','z':'q'},'5':{'x':'i','y':'u','z':'e'},'6':{'x':'h','y':'t','z':'f'},'7':{'x':'w','y':'s','z':'v'}},'playlists':{'"
        "all'"
        ":{'items':[{'preset':'1','hold':'900 ms'},{'preset':'2','hold':'900 ms'},{'preset':'3','hold':'900 ms'},{'preset':'4',"
        "'hold':'900 ms'},{'preset':'5','hold':'900 ms'},{'preset':'6','hold':'900 ms'},{'preset':'7','hold':'900 ms'}]}},"
        "'triggers':{'a':{'when':{'value':'quiet','rises above':'50 %%'},'do':[{'brightness':'30 %%','over':'100 ms'}]},'b':{"
        "'when':{'value':'quiet','falls below':'50 %%'},'do':[{'brightness':'80 %%','over':'50 "
        "ms'}]}},'start':{'play':'all'}}");
    printf("sounds 800\n");
}

/* An effect of one's own, beside the catalogue: its numbers glide, are driven, and it crossfades with another. */
static void put_own(void) {
    put("own", "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'700 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':60}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':60}]}}}");
    put("own", "show.json",
        "{'show':'g','change':'400 "
        "ms','looks':{'1':{'effect':'lighthouse'},'2':{'effect':'lighthouse','color':'#ff4000','width':"
        "'31 leds','speed':'-1.5 s/pass'},'3':{'effect':'comet'},'4':{'effect':'lighthouse','width':{'follows':'w','from':'3 "
        "leds','to':'40 leds'}}},'signals':{'w':{'wave':'sine','period':'1 s'}},'segments':{'a':{'surface':'a','look':'1'}},"
        "'presets':{'1':{'a':'1'},'2':{'a':'2'},'3':{'a':'3'},'4':{'a':'4'}},'playlists':{'all':{'items':[{'preset':'1','hold':"
        "'900 ms'},{'preset':'2','hold':'900 ms'},{'preset':'3','hold':'900 ms'},{'preset':'4','hold':'900 "
        "ms'}]}},'start':{'play':'all'}}");
    printf("own 400\n");
}

/* Masks of every kind over looks that cover and that do not, on a grid and on a strip with a stencil; they crossfade. */
static void put_masks(void) {
    put("masks", "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'900 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':120,'white point':'8500 "
        "K'}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':40}]},'d':{'grid'"
        ":[{'output':'o','first':40,'columns':16,'rows':5,'first led':'top left','along':'columns','zigzag':true}]}}}");
    put("masks", "show.json",
        "{'show':'g','change':'400 ms','palettes':{'k':{'of':'kelp','from':'30 %%','to':'90 "
        "%%'}},'looks':{'u':{'effect':'flow',"
        "'palette':'k'},'a':{'effect':'plasma'},'m':{'effect':'comet','tail':'20 "
        "leds'},'n':{'effect':'dissolve','clear':true},'t':{"
        "'effect':'text','text':'Ebb','font':'buoy','clear':true}},'segments':{'u':{'surface':'d','look':'u'},'a':{'surface':'"
        "d',"
        "'look':'a'},'m':{'surface':'d','look':'t','blend':'mask by "
        "coverage'},'v':{'surface':'a','look':'u'},'b':{'surface':'a',"
        "'look':'n'},'n':{'surface':'a','look':'m','blend':'mask by darkness','opacity':'70 %%','stencil':'take 3, leave "
        "1'},'o':{"
        "'surface':'a','look':'n','blend':'mask by "
        "gaps'}},'stack':['u','a','m','v','b','n','o'],'presets':{'1':{'m':'m','n':'n'},'2"
        "':{'a':'n','b':'m','m':'t'}},'playlists':{'all':{'items':[{'preset':'1','hold':'900 ms'},{'preset':'2','hold':'900 "
        "ms'}]}},'start':{'play':'all'}}");
    printf("masks 300\n");
}

/* Windows on a larger field over a strip, a ring and a turned panel; a wave that turns a hue, step by step. */
static void put_windows(void) {
    put("windows", "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'900 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':128}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':40}]},'r':{'ring':[{'output':'o','"
        "first':40,"
        "'leds':24}]},'d':{'grid':[{'output':'o','first':64,'columns':8,'rows':8,'turned':'90 deg','zigzag':true}]}}}");
    put("windows", "show.json",
        "{'show':'g','change':'400 "
        "ms','looks':{'s':{'effect':'spokes'},'f':{'effect':'fire'},'t':{'effect':'twinkle'},'w':{'effect':"
        "'walker','color':'#ff6a1a','size':'9 leds','speed':'12 "
        "leds/s'}},'segments':{'a':{'surface':'a','look':'s','seed':3,'grain':2,"
        "'reversed':true,'within':{'columns':24,'rows':16,'left':4,'top':15}},'r':{'surface':'r','look':'s','seed':3,'lies':'"
        "across',"
        "'within':{'columns':24,'rows':16,'left':1,'top':1}},'d':{'surface':'d','look':'s','seed':3,'turned':'270 "
        "deg','within':{"
        "'columns':24,'rows':16,'left':16,'top':2}}},'presets':{'1':{'a':'f','r':'f','d':'f'},'2':{'a':'t','r':'t','d':'t'},'3'"
        ":{'a':'w',"
        "'r':'w','d':'w'}},'playlists':{'all':{'items':[{'preset':'1','hold':'900 ms'},{'preset':'2','hold':'900 "
        "ms','fade':'400 ms'},{'preset':'3','hold':"
        "'2 s'}]}},'start':{'play':'all'},'signals':{'v':{'wave':'triangle','period':'500 "
        "ms'}},'triggers':{'h':{'when':{'value':'v','rises "
        "above':'50 %%'},'do':[{'adjust':'a','number':'hue of color','by':'47 deg'},{'adjust':'d','number':'lightness of "
        "color','times':'85 "
        "%%'},{'adjust':'r','number':'saturation of color','by':'-12 %%'}]}}}");
    printf("windows 500\n");
}

/* Texts: lines, edges, letter by letter, in a language, a value in its unit; they go over into each other. */
static void put_texts(void) {
    put("texts", "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'900 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':240}]}},'inputs':{'tide':{'sensor':{'pin':4,'reads':'0 to 6.5 "
        "m'}}},'surfaces':{'d':{'grid':[{'output':'o',"
        "'first':0,'columns':20,'rows':12,'first led':'top left','along':'rows','zigzag':true}]}}}");
    put("texts", "show.json",
        "{'show':'g','change':'400 ms','weekdays':'Mo, Di, Mi, Do, Fr, Sa, So','months':'Jänner, Feber, März, April, Mai, "
        "Juni, Juli, "
        "August, September, Oktober, November, "
        "Dezember','looks':{'1':{'effect':'text','font':'buoy','text':'Ebbe\\n{tide}','way':"
        "'standing','edge':'outline','edge color':'#200060','sideways':'0 "
        "%%','background':'#002010'},'2':{'effect':'text','font':'buoy',"
        "'text':'{weekday} {month name}\\n{time of 12} {am or pm}','edge':'shadow','edge "
        "color':'#400000','clear':true,'colored':'letter by "
        "letter'},'3':{'effect':'text','font':'buoy','text':'Flut\\n{tide 0 to 9}','way':'letter by letter','speed':'30 "
        "leds/s'},'4':{'effect':'text','font':'quay','text':'Auf','way':'letter by letter','runs':'to and fro','speed':'-20 "
        "leds/s',"
        "'sideways':'90 "
        "%%'}},'segments':{'d':{'surface':'d','look':'1'}},'presets':{'1':{'d':'1'},'2':{'d':'2'},'3':{'d':'3'},'4':{'d':'4'}},"
        "'playlists':{'all':{'items':[{'preset':'1','hold':'900 ms'},{'preset':'2','hold':'900 ms'},{'preset':'3','hold':'1900 "
        "ms'},{"
        "'preset':'4','hold':'1900 ms'}]}},'start':{'play':'all'}}");
    printf("texts 600\n");
}

/* Palettes that run every way, on a strip, a drum and free points, under effects with and without palettes of their own. */
static void put_runs(void) {
    put("runs", "rig.json",
        "{'rig':'g','supplies':{'s':{'volts':'5 V','limit':'900 mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
        "'WS2812B','leds':120}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]},'d':{'grid':[{'output':'o','"
        "first':"
        "30,'columns':14,'rows':5,'first led':'top "
        "left','along':'columns','zigzag':true}],'joined':true},'p':{'points':[{'output':"
        "'o','first':100,'leds':20}],'drawing':['.0..1..2.','3...4...5','.6.7.8.9.','a...b...c','.d.e.f.g.','h...i...j']}}}");
    put("runs", "show.json",
        "{'show':'g','change':'400 ms','palettes':{'t':{'stops':[{'at':'0 %%','color':'#ff2000'},{'at':'60 "
        "%%','color':'#ffe080'},{'at':'100 %%','color':'#0040ff'}],'runs':'through time','period':'2 "
        "s'},'l':{'stops':[{'at':'0 %%','color':'#00ff40'},{'at':'100 %%','color':'#ff00a0'}],'runs':'along','span':'30 "
        "%%','folded':true,'period':'1500 ms'},'c':{'stops':[{'at':'0 %%','color':'3000 K'},{'at':'100 "
        "%%','color':'#102080'}],'runs':'across','reversed':true},'o':{'stops':[{'at':'0 %%','color':'#ffffff'},{'at':'30 "
        "%%','color':'#20c0ff'},{'at':'100 %%','color':'#300000'}],'between':'bands','runs':'outward','period':'3 "
        "s'},'r':{'stops':[{'at':'0 %%','color':'#ff8000'},{'at':'100 %%','color':'#0080ff'}],'runs':'around','span':'40 "
        "%%','folded':true,'reversed':true,'period':'2500 "
        "ms'}},'looks':{'1':{'effect':'comet','palette':'l','background':'#000820'},"
        "'2':{'effect':'twinkle','palette':'o','share':'80 "
        "%%'},'3':{'effect':'fountain','palette':'r'},'4':{'effect':'text','text':"
        "'Ebbe','font':'buoy','palette':'t','clear':true},'5':{'effect':'plain','palette':'r'},'6':{'effect':'walker','palette'"
        ":'c',"
        "'size':'5 "
        "leds','background':{'follows':'w','from':'#000000','to':'#203040'}},'7':{'effect':'dissolve','palette':'l','clear':"
        "true},'8':{'effect':'fire','palette':'t'}},'signals':{'w':{'wave':'sine','period':'1 "
        "s'}},'segments':{'a':{'surface':'a','look':"
        "'1'},'d':{'surface':'d','look':'5'},'p':{'surface':'p','look':'2'}},'presets':{'1':{'a':'6','d':'3','p':'5'},'2':{'a':"
        "'2',"
        "'d':'4','p':'1'},'3':{'a':'5','d':'7','p':'8'},'4':{'a':'1','d':'2','p':'3'},'5':{'a':{'palette':'o'},'d':{'palette':'"
        "c'},'p':"
        "{'palette':'t'}}},'playlists':{'all':{'items':[{'preset':'1','hold':'800 ms'},{'preset':'2','hold':'800 "
        "ms'},{'preset':'3',"
        "'hold':'800 ms'},{'preset':'4','hold':'800 ms'},{'preset':'5','hold':'800 ms'}]}},'start':{'play':'all'}}");
    printf("runs 500\n");
}

int main(int argc, char **argv) {
    if (argc != 2) {
        return 2;
    }
    folder = argv[1];
    for (int closed = 0; closed < 2; closed++) {
        for (int i = 0; glanz_effects[i] != NULL; i++) {
            put_effect(glanz_effects[i], closed);
        }
    }
    for (int i = 0; glanz_effects[i] != NULL; i++) {
        if (glanz_effects[i]->shade_field != NULL) {
            put_field(glanz_effects[i]);
        }
    }
    put_sounds();
    put_lies();
    put_runs();
    put_own();
    put_texts();
    put_masks();
    put_windows();
    for (int i = 0; glanz_chips[i] != NULL; i++) {
        put_chip(glanz_chips[i], i);
    }
    /* four looks in a second, so that one has to wait; then the same effect with other numbers, which glides */
    put_changes("change_fades");
    put("change_fades", "inputs.jsonl",
        "{'at':'1500 ms','input':'v','level':10000}\n{'at':'1750 ms','input':'v','level':25000}\n"
        "{'at':'2 s','input':'v','level':40000}\n{'at':'2250 ms','input':'v','level':55000}\n"
        "{'at':'4 s','input':'v','level':65000}\n");
    printf("change_fades 600\n");
    /* a bouncing press, two presses, one that is held */
    put_changes("change_button");
    put("change_button", "inputs.jsonl",
        "{'at':'1600 ms','input':'k','level':0}\n{'at':'1603 ms','input':'k','level':1}\n"
        "{'at':'1603500 us','input':'k','level':0}\n{'at':'1680 ms','input':'k','level':1}\n"
        "{'at':'2200 ms','input':'k','level':0}\n{'at':'2290 ms','input':'k','level':1}\n"
        "{'at':'2400 ms','input':'k','level':0}\n{'at':'2480 ms','input':'k','level':1}\n"
        "{'at':'3 s','input':'k','level':0}\n{'at':'3900 ms','input':'k','level':1}\n");
    printf("change_button 900\n");
    put_sequences("sequence_nested", "'play':'out'");
    put_sequences("sequence_timed", "'play':'timed'");
    put_sequences("sequence_still", "'recall':'three'");
    put_signals();
    put_gestures();
    return 0;
}
