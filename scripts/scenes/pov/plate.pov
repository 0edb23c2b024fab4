// A place of the reserve that a camera stands in: KIND 1 sheds on grass, 2 a boardwalk through reeds, 3 a jetty over water, 4 the keepers' room. Metres, x right, y up, z away;
// the camera stands at <0,H,0>, its azimuth 0 is z. KIND 0 is nothing but light. THING 1.. stands at <TX,0,TZ>, TURN degrees turned (things.inc); MATTE: all but it black. PAPER: what is behind it where there is nothing else.
// SEED makes it another place. plates.py gives all numbers and writes the truth.
#version 3.7;
global_settings{assumed_gamma 1 max_trace_level 6}
#default{finish{ambient 0 diffuse .9}}
#declare R=seed(SEED);
#macro U(a,b) (a+(b-a)*rand(R)) #end
#ifdef(LOOKX) camera{perspective location <0,H,0> up y right x*image_width/image_height direction z angle HF look_at <LOOKX,LOOKY,LOOKZ>}
#else camera{perspective location <0,0,0> right x*image_width/image_height up y direction z angle HF rotate z*ROLL rotate x*-PITCH translate y*H} #end
#declare ToSun=vrotate(z,<-EL,AZ,0>);
#if(SUN>0)
 // a disc SUNDEG wide seen from anywhere here
 #declare D=2000; #declare Rad=D*tan(radians(SUNDEG/2));
 light_source{ToSun*D rgb <1,.93,.82>*SUN area_light x*2*Rad,y*2*Rad,9,9 circular orient adaptive 2}
#end
#ifdef(OTHERSKY) #include "sky.inc" #else #declare SkyLight=<.72,.86,1>; #end
#ifdef(DOME)
 // an even sky, as often as it lights level ground from there
 #declare k=0; #while(k<DOME) #declare r=sqrt((k+.5)/DOME); light_source{<r*cos(k*2.39996),sqrt(1-r*r),r*sin(k*2.39996)>*5000 rgb SkyLight*FILL/DOME/sqrt(1-r*r) parallel point_at 0} #declare k=k+1; #end
#else light_source{<0,5000,0> rgb SkyLight*FILL shadowless} #end
// light on what stands upright only
light_source{<-3000,0,-4000> rgb SkyLight*<1.11,1.05,1>*FILL*.45 shadowless}
light_source{<3000,0,-2500> rgb SkyLight*<1.11,1.05,1>*FILL*.3 shadowless}
#ifdef(LAMPX)
 // a ball LAMPR in radius whose light on what faces it a metre away is LAMP, and falls off as the square
 light_source{<LAMPX,LAMPY,LAMPZ> rgb <LAMPRED,LAMPGREEN,LAMPBLUE>*LAMP*5000 fade_distance .01 fade_power 2 area_light x*2*LAMPR,y*2*LAMPR,5,5 circular orient}
#end
#ifdef(PAPER) background{rgb PAPER} #end
#ifdef(OTHERSKY) sky_sphere{pigment{gradient y color_map{[0 rgb SkyLow][.25 rgb SkyMiddle][1 rgb SkyHigh]}}
 pigment{bozo turbulence .7 lambda 2.2 color_map{[0 rgbt <1,1,1,1>][.5 rgb Cloud*.85 transmit .75][.8 rgb Cloud*.9 transmit .2][1 rgb Cloud]} scale <.6,.15,.6> translate SKYSEED}}
#else #if(KIND) sky_sphere{pigment{gradient y color_map{[0 rgb <.62,.68,.74>][.25 rgb <.36,.5,.72>][1 rgb <.16,.28,.55>]}}
 pigment{bozo turbulence .6 lambda 2.4 color_map{[0 rgbt <1,1,1,1>][.55 rgbt <.85,.86,.88,1>][.8 rgbt <.85,.86,.88,.35>][1 rgbt <.9,.9,.9,.2>]} scale <.5,.14,.5> translate SEED}} #end #end
// wood whose grain runs up, across or ahead, as the board lies
#macro Grain(c,turned) texture{pigment{wood turbulence .1 octaves 4 color_map{[0 rgb c*U(.7,1.2)][.5 rgb c*U(.55,1)][1 rgb c*U(.75,1.3)]} scale <.03,.03,1.6> rotate <U(-.5,.5),U(-.5,.5),0> translate <U(0,9),U(0,9),U(0,90)> rotate turned}
 normal{granite .1 scale <.02,.02,.6> rotate turned}} #end
#macro Board(c) Grain(c,x*90) #end
#macro Across(c) Grain(c,y*90) #end
#macro Ahead(c) Grain(c,0) #end
#declare Wood=<.34,.27,.2>*U(.7,1.4);
#macro Post(X,Z,Y0,Y1,r) cylinder{<X,Y0,Z>,<X,Y1,Z>,r Board(Wood)} #end
#macro Reed(X,Z,Y0) #local h=U(.7,1.9); #local lx=U(-.25,.25)*h; #local lz=U(-.25,.25)*h;
 cone{<X,Y0,Z>,U(.006,.012),<X+lx,Y0+h,Z+lz>,.002 pigment{rgb <U(.2,.5),U(.26,.46),U(.08,.16)>}} #end
#macro Reeds(x0,x1,z0,z1,n,Y0) union{#local k=0; #while(k<n) Reed(U(x0,x1),U(z0,z1),Y0) #local k=k+1; #end} #end
#macro Far(Y0) union{#local k=0; #while(k<60) sphere{0,1 scale <U(4,14),U(2,9),4> translate <U(-260,260),Y0,U(170,300)> pigment{bozo color_map{[0 rgb <.1,.15,.08>][1 rgb <.2,.24,.12>]} scale .8}} #local k=k+1; #end} #end
#declare Grass=texture{pigment{bozo turbulence .8 color_map{[0 rgb <.13,.17,.06>][.5 rgb <.2,.24,.09>][1 rgb <.3,.28,.14>]} scale .35} normal{granite .5 scale .2}}
#macro Window(X0,Y0,w,h) box{<X0-.06,Y0-.06,-.05>,<X0+w+.06,Y0+h+.06,.02> pigment{rgb .62}} box{<X0,Y0,-.06>,<X0+w,Y0+h,0> pigment{rgb <.05,.06,.07>} finish{reflection .1}}
 box{<X0+w/2-.02,Y0,-.075>,<X0+w/2+.02,Y0+h,0> pigment{rgb .62}} box{<X0,Y0+h/2-.02,-.075>,<X0+w,Y0+h/2+.02,0> pigment{rgb .62}} #end
// a wall towards -z from the origin to the right, of boards or bricks
#macro Wall(w,h,bricks,paint) union{
 #if(bricks) box{<0,0,0>,<w,h,.3> pigment{brick rgb .55,rgb <.42,.2,.14>*paint brick_size <.25,.085,.125> mortar .012 turbulence .015} normal{granite .1 scale .05}}
 #else #local k=0; #local n=floor(h/.19); #while(k<n) box{<0,k*h/n+.004,U(-.006,.006)>,<w,(k+1)*h/n,.3> Across(Wood*1.2*paint)} #local k=k+1; #end #end
 #local n=max(1,floor(w/1.9)); #local k=0; #while(k<n) #if(k=floor(n/2)) box{<(k+.5)*w/n-.5,0,-.06>,<(k+.5)*w/n+.5,2,.01> Board(Wood*.6)} #else Window((k+.5)*w/n-.4,.95,.8,1.05) #end #local k=k+1; #end} #end
// the roof as two slabs with courses of tiles
#macro House(w,d,h,bricks,paint) union{object{Wall(w,h,bricks,paint)} object{Wall(d,h,bricks,paint) rotate y*-90 translate <w,0,0>} object{Wall(d,h,bricks,paint) rotate y*90 translate <0,0,d>} object{Wall(w,h,bricks,paint) rotate y*180 translate <w,0,d>}
 #local a=28; #local L=(d/2+.35)/cos(radians(a)); #local n=floor(L/.28); #local s=0; #while(s<2) union{#local k=0; #while(k<n) box{<-.35,0,k*L/n>,<w+.35,.03,(k+1)*L/n+.04> rotate x*-2 translate y*.02*k*0 pigment{rgb <.2,.17,.16>*U(.8,1.2)}} #local k=k+1; #end
   rotate x*-a translate <0,h-.02,-.35> #if(s=1) translate z*-d/2 scale <1,1,-1> translate z*d/2 #end} #local s=s+1; #end
 box{<0,h,d*.12>,<.25,h+d*.2,d*.88> pigment{rgb <.3,.26,.22>}} box{<w-.25,h,d*.12>,<w,h+d*.2,d*.88> pigment{rgb <.3,.26,.22>}}} #end
#macro Planks(w,from,to,step) union{#local k=from; #while(k<to) box{<-w/2+U(-.01,.01),-.04,k>,<w/2+U(-.01,.01),U(-.006,0),k+step-.016> Across(Wood*1.1)} #local k=k+step; #end} #end
#macro Marks() #local k=0; #while(k<dimension_size(Stakes,1)) cylinder{<Stakes[k][0],0,Stakes[k][1]>,<Stakes[k][0],Stakes[k][2],Stakes[k][1]>,.035 pigment{rgb <.6,.56,.5>}} #local k=k+1; #end #end
#if(KIND=1 | KIND=3) #include "stakes.inc" #end
#if(KIND=1)
 plane{y,0 texture{Grass}} object{Far(-1)}
 union{object{House(U(5,9),U(4,6),U(2.4,3.2),SEED-2*floor(SEED/2),U(.8,1.4)) translate <-2,0,0>} object{House(U(3,4),U(3,4),U(2.1,2.5),1-(SEED-2*floor(SEED/2)),U(.8,1.4)) translate <U(-8.5,-7),0,U(-1,2)>}
  // a path of slabs along the front, and a fence
  #local k=-12; #while(k<14) box{<k,-.02,-2.2>,<k+.985,.015,-1.2> pigment{rgb U(.3,.42)} normal{granite .2 scale .1}} #local k=k+1; #end
  #local k=0; #while(k<7) object{Post(9+k*1.6,-1,0,1.15,.05)} #local k=k+1; #end box{<9,.45,-1.03>,<18.6,.55,-1> Across(Wood)} box{<9,.95,-1.03>,<18.6,1.05,-1> Across(Wood)}
  rotate y*YAW translate <U(-1,1),0,DIST>}
 #ifndef(MOWN) object{Reeds(-14,14,DIST*.2,DIST*.55,120,0)} #end
 Marks()
#end
#if(KIND=2)
 plane{y,-.25 pigment{bozo turbulence .6 color_map{[0 rgb <.1,.09,.06>][1 rgb <.2,.17,.1>]} scale .7} normal{granite .5 scale .4}} object{Far(-2)}
 union{object{Planks(1.5,-3,34,.15)} box{<-.6,-.2,-3>,<-.5,-.05,34> Ahead(Wood)} box{<.5,-.2,-3>,<.6,-.05,34> Ahead(Wood)}
  #local k=0; #while(k<16) object{Post(-.82,k*2,-.3,1.05,.05)} object{Post(.82,k*2,-.3,1.05,.05)} #local k=k+1; #end
  #local s=-1; #while(s<2) box{<s*.82-.03,.5,-2>,<s*.82+.03,.58,32> Ahead(Wood)} box{<s*.82-.05,1,-2>,<s*.82+.05,1.05,32> Ahead(Wood)} #local s=s+2; #end
  rotate y*YAW translate <U(-.3,.3),0,.5>}
 object{Reeds(-9,-1.6,3,26,1500,-.25)} object{Reeds(1.6,9,3,26,1500,-.25)}
#end
#if(KIND=3)
 plane{y,-.8 pigment{rgb <.05,.08,.08>} normal{bumps .06 scale <.5,.2,.3> turbulence .3} finish{diffuse .4 specular .3 roughness .01 reflection{.03,.6 fresnel on} conserve_energy} interior{ior 1.33}} object{Far(-3)}
 union{object{Planks(2.6,-4,18,.18)}
  #local k=0; #while(k<8) object{Post(-1.38,k*2.4,-2,.9+U(-.02,.02),.11)} object{Post(1.38,k*2.4,-2,.9+U(-.02,.02),.11)} #local k=k+1; #end
  box{<-1.3,-.25,-4>,<-1.2,-.04,18> Ahead(Wood)} box{<1.2,-.25,-4>,<1.3,-.04,18> Ahead(Wood)}
  box{<-.95,0,9>,<-.25,.5,9.7> Board(Wood*1.5)} box{<-.9,.5,9.1>,<-.35,.85,9.6> Board(Wood*1.3)} box{<.3,0,13>,<1.05,.45,13.8> Board(Wood)}
  rotate y*YAW translate <U(-.4,.4),0,1>}
 Marks()
#end
#if(KIND=4)
 #local W=U(4.2,6); #local L=U(5,8); #local T=U(2.4,2.9);
 union{
  #local k=-W/2; #while(k<W/2) box{<k,-.02,-3>,<min(k+.135,W/2),0,L> Ahead(Wood*1.3)} #local k=k+.14; #end
  box{<-W/2-.2,0,-3>,<-W/2,T,L> pigment{rgb <.6,.58,.5>} normal{granite .05 scale .3}} box{<W/2,0,-3>,<W/2+.2,T,L> pigment{rgb <.6,.58,.5>} normal{granite .05 scale .3}}
  box{<-W/2,T,-3>,<W/2,T+.2,L> pigment{rgb <.7,.7,.68>}}
  #local k=-3; #while(k<L) box{<-W/2,T-.16,k>,<W/2,T,k+.12> Across(Wood)} #local k=k+.9; #end
  object{Wall(W,T,0,1.5) translate <-W/2,0,L>}
  box{<-W/2,0,-3>,<-W/2+.02,.12,L> pigment{rgb .75}} box{<W/2-.02,0,-3>,<W/2,.12,L> pigment{rgb .75}}
  // a shelf on the left, pictures on the right, a table, a bench
  #local k=0; #while(k<4) box{<-W/2,.4+k*.45,L*.45>,<-W/2+.32,.43+k*.45,L*.85> Ahead(Wood)} #local k=k+1; #end
  box{<-W/2,.1,L*.45-.03>,<-W/2+.32,1.9,L*.45> Board(Wood)} box{<-W/2,.1,L*.85>,<-W/2+.32,1.9,L*.85+.03> Board(Wood)}
  #local k=0; #while(k<3) box{<W/2-.03,1.2,L*(.3+.22*k)>,<W/2,1.75,L*(.3+.22*k)+.8> pigment{rgb <.3,.24,.16>}} box{<W/2-.035,1.26,L*(.3+.22*k)+.06>,<W/2,1.69,L*(.3+.22*k)+.74> pigment{bozo color_map{[0 rgb <.4,.45,.4>][1 rgb <.2,.25,.3>]} scale .15}} #local k=k+1; #end
  union{box{<-.7,.72,-.4>,<.7,.76,.4> Across(Wood*1.4)} #local k=0; #while(k<4) box{<-.66+1.26*mod(k,2),0,-.36+.66*floor(k/2)>,<-.6+1.26*mod(k,2),.72,-.3+.66*floor(k/2)> Board(Wood)} #local k=k+1; #end translate <U(-.5,.5),0,L*.55>}
  rotate y*YAW translate <U(-.6,.6),0,U(-.5,.5)>}
 light_source{<.8,2.1,1> rgb <1,.9,.75>*.9 fade_distance 3 fade_power 2}
 light_source{<0,1.4,-1.5> rgb .35 shadowless}
#end
#ifdef(THING) #include "things.inc" object{Thing(THING) rotate y*TURN translate <TX,0,TZ>} #end
#ifdef(ALL) #include "things.inc" #include "all.inc" #end
