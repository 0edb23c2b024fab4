// A jointed wooden figure on a slate bench before tarred boards. Centimetres, x right, y up, z away.
// Declare=POSE=1 (raised hand good, head hangs) or 2 (head up, hand droops); CX, CY, CZ, ROLL, LX, LY place the camera.
#version 3.7;
#ifndef(POSE) #declare POSE=1; #end
#ifndef(CX) #declare CX=3; #end
#ifndef(CY) #declare CY=27; #end
#ifndef(CZ) #declare CZ=-74; #end
#ifndef(LX) #declare LX=0; #end
#ifndef(LY) #declare LY=21; #end
#ifndef(ROLL) #declare ROLL=0; #end
#ifndef(AP) #declare AP=1.1; #end
global_settings{assumed_gamma 1 max_trace_level 5}
#default{finish{ambient 0 diffuse .82}}
camera{perspective location <0,0,0> right x*image_width/image_height up y direction z angle 47
 #if(AP>0) aperture AP focal_point z*73 blur_samples 30 confidence .9 variance 1/3000 #end
 rotate z*ROLL rotate x*degrees(atan2(CY-LY,-CZ)) rotate y*degrees(atan2(LX-CX,-CZ)) translate <CX,CY,CZ>}
light_source{<-70,75,-55> rgb <1.05,1.0,.92>*1.5 area_light <16,0,12>,<0,18,0>,5,5 adaptive 1 jitter fade_distance 110 fade_power 2}
light_source{<80,45,-40> rgb <.55,.62,.75>*.42 area_light <0,22,0>,<14,0,14>,4,4 adaptive 1 jitter}
light_source{<10,120,-20> rgb <.09,.09,.1> shadowless}
light_source{<0,20,-90> rgb <.06,.058,.055> shadowless}
#declare R=seed(12);
// ---- wall of boards and bench
#declare i=0; #while(i<15)
 box{<-75+i*10,-6,34>,<-65.25+i*10,70,35.2>
  pigment{wood turbulence .13 octaves 4 color_map{[0 rgb <.055,.047,.041>*(.7+.8*rand(R))][.5 rgb <.105,.088,.072>*(.7+.6*rand(R))][1 rgb <.045,.038,.033>]} scale <1.5,26,1.5> translate rand(R)*70}
  normal{granite .22 scale <.5,6,.5>} finish{diffuse .85 specular .12 roughness .08}} #declare i=i+1; #end
#declare Slate=texture{pigment{granite turbulence .25 color_map{[0 rgb <.022,.025,.029>][.5 rgb <.045,.049,.054>][.8 rgb <.075,.076,.077>][1 rgb <.13,.12,.105>]} scale <3,1,2>}
 normal{average normal_map{[1 granite .5 scale .9][.6 bumps .3 scale .15][1 wrinkles .4 scale .6]}} finish{diffuse .9 specular .25 roughness .04 reflection{0,.14 fresnel on} conserve_energy}}
box{<-90,-3,-40>,<90,0,34> texture{Slate} interior{ior 1.5}}
// things on the bench: a coil of cord, a crate
union{#declare i=0; #while(i<5) torus{4.6-.12*i,.48 translate <-23+.3*i,.5+.86*i,11-.2*i>} #declare i=i+1; #end pigment{bozo color_map{[0 rgb <.30,.24,.15>][1 rgb <.20,.15,.09>]} scale .25} normal{gradient x .6 scale .35}}
#declare i=0; union{#while(i<4) box{<15,i*3.2+.2,10>,<33,i*3.2+2.9,11.2> pigment{wood turbulence .1 color_map{[0 rgb <.24,.18,.11>*(.8+.4*rand(R))][1 rgb <.15,.11,.07>]} scale <14,.7,.7> translate rand(R)*20} normal{granite .2 scale <3,.3,.3>}} #declare i=i+1; #end
 box{<15,0,11.2>,<16.5,13,24> pigment{rgb <.17,.12,.08>}} box{<31.5,0,11.2>,<33,13,24> pigment{rgb <.17,.12,.08>}} rotate y*-14}
// ---- the figure
#macro Timber(dirx) texture{pigment{wood turbulence .06 octaves 4 color_map{[0 rgb <.56,.36,.17>][.35 rgb <.63,.43,.22>][.7 rgb <.50,.30,.13>][1 rgb <.58,.38,.19>]} scale .42 rotate dirx translate rand(R)*9}
 normal{wood .12 turbulence .06 scale .42 rotate dirx} finish{diffuse .8 specular .28 roughness .035}} #end
#include "figureParts.inc"
#declare Lean=(POSE=1? 0 : 2.2);
#declare Head=(POSE=1? <34,-24,10> : <-4,14,-3>);
#declare ArmR=(POSE=1? <0,0,-112> : <14,0,-30>); #declare ElR=(POSE=1? <0,0,-24> : <-52,0,0>); #declare WrR=(POSE=1? <0,0,12> : <-62,20,30>);
#declare ArmL=(POSE=1? <10,0,22> : <12,0,20>); #declare ElL=(POSE=1? <-62,0,-8> : <-58,0,-6>);
union{
 // pelvis and legs
 sphere{0,1 scale <2.5,1.75,1.7> Timber(<0,0,90>) }
 object{Leg(<-7,0,4>,<9,0,0>) translate <1.4,-1.3,0>} object{Leg(<3,0,-5>,<2,0,0>) translate <-1.4,-1.3,0>}
 union{ Ball(1.25)
  union{ // the chest; the shoulders are its
   lathe{cubic_spline 8,<0,-.6>,<0,0>,<1.7,.35>,<2.5,2.6>,<3.15,5.2>,<2.1,6.9>,<0,7.3>,<0,7.8> scale <1,1,.68> Timber(<90,0,0>) translate y*.7}
   cylinder{<0,4.6,-2.28>,<0,4.6,-1.9>,.34 pigment{rgb <.09,.05,.03>}} 
   // a painted band across the chest, the figure's mark
   object{Arm(ArmR,ElR,0,WrR) translate <-3.75,6.4,0>} object{Arm(ArmL,ElL,10,<0,0,0>) translate <3.75,6.4,0>}
   union{cylinder{0,y*1.2,.75 Timber(<90,0,0>)} union{Ball(.85) lathe{cubic_spline 8,<0,-.5>,<0,0>,<1.1,.35>,<1.75,2.0>,<1.95,3.6>,<1.2,5.2>,<0,5.75>,<0,6.2> scale <1,1,1.12> Timber(<90,8,0>)} rotate Head translate y*1.5} translate y*7.7}
   rotate z*Lean*.4 translate y*.15}
  rotate <0,0,Lean> translate y*2.6}
 rotate y*-16 translate <0,20.3,0>}
cylinder{<0,0,0>,<0,1.6,0>,6.2 pigment{wood turbulence .08 color_map{[0 rgb <.36,.22,.10>][1 rgb <.26,.15,.07>]} scale .9 rotate x*90} normal{wood .1 scale .9} finish{specular .2 roughness .04}}
cylinder{<0,1.5,2.2>,<0,20,2.2>,.22 pigment{rgb <.25,.25,.26>} finish{diffuse .3 specular .7 roughness .01 metallic}}
