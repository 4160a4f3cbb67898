#include "go_asm.h"
#include "textflag.h"

// boxSlack in single precision.
DATA slack<>+0(SB)/4, $0x3f800003
GLOBL slack<>(SB), RODATA|NOPTR, $4

// FOUR loads a figure four times.
#define FOUR(at, to) \
	MOVSS  at, to; \
	SHUFPS $0, to, to

// PLANE works out where the ray passes four sides, of the nodes' field at, as far in as side tells.
#define PLANE(at, side, from, inv, to) \
	MOVUPS (at)(DX)(side*1), to; \
	SUBPS  from, to; \
	MULPS  inv, to

// SIDES works out where a node has the nearer and the farther sides of an axis.
#define SIDES(neg, near, far) \
	MOVBLZX neg, near; \
	SHLQ    $4, near; \
	MOVQ    near, far; \
	XORQ    $16, far

// func descendFour(nodes *four, w *walker, open *ways, top int, at int32) (leaf int32, left int)
//
// X0..X2 from, X3..X5 inv, X6 near, X7 far, X8 the slack, each four times.
// R9, R10, R11: where a node has the nearer sides by axis; R12, R13, BX: where the farther ones.
TEXT ·descendFour(SB), NOSPLIT, $32-56
	MOVQ    nodes+0(FP), SI
	MOVQ    w+8(FP), DI
	MOVQ    open+16(FP), R8
	MOVQ    top+24(FP), CX
	MOVLQSX at+32(FP), AX
	FOUR((walker_from+0)(DI), X0)
	FOUR((walker_from+4)(DI), X1)
	FOUR((walker_from+8)(DI), X2)
	FOUR((walker_inv+0)(DI), X3)
	FOUR((walker_inv+4)(DI), X4)
	FOUR((walker_inv+8)(DI), X5)
	FOUR(walker_near(DI), X6)
	FOUR(walker_far(DI), X7)
	FOUR(slack<>(SB), X8)
	SIDES((walker_neg+0)(DI), R9, R12)
	SIDES((walker_neg+1)(DI), R10, R13)
	SIDES((walker_neg+2)(DI), R11, BX)
	TESTQ   AX, AX
	JLT     pop

node:
	// Where the ray enters and leaves each of four boxes. What is no number lies in the plane of a side: of two, the
	// instructions return the second then, which leaves it out.
	SHLQ   $7, AX
	LEAQ   (SI)(AX*1), DX
	PLANE(four_box+0, R9, X0, X3, X9)
	MAXPS    X6, X9
	PLANE(four_box+0, R12, X0, X3, X12)
	MINPS    X7, X12
	PLANE(four_box+32, R10, X1, X4, X10)
	MAXPS    X9, X10
	PLANE(four_box+32, R13, X1, X4, X13)
	MINPS    X12, X13
	PLANE(four_box+64, R11, X2, X5, X11)
	MAXPS    X10, X11
	PLANE(four_box+64, BX, X2, X5, X12)
	MINPS    X13, X12
	MULPS  X8, X12
	MOVAPS X11, X9
	CMPPS  X12, X9, $2
	MOVMSKPS X9, AX
	TESTL  AX, AX
	JEQ    pop
	MOVUPS X11, enters-16(SP)
	MOVQ   CX, base-24(SP)

hit:
	// Each child that is entered takes its place among the ways that this node opens: the nearest last.
	BSFL  AX, DI
	LEAL  -1(AX), R15
	ANDL  R15, AX
	MOVSS enters-16(SP)(DI*4), X9
	MOVL  four_child(DX)(DI*4), DI
	MOVQ  CX, R15

earlier:
	CMPQ    R15, base-24(SP)
	JEQ     place
	MOVSS   (ways_enter-4)(R8)(R15*4), X10
	UCOMISS X10, X9 // in against the one before
	JLS     place
	MOVSS   X10, ways_enter(R8)(R15*4)
	MOVL    (ways_child-4)(R8)(R15*4), X10
	MOVL    X10, ways_child(R8)(R15*4)
	DECQ    R15
	JMP     earlier

place:
	MOVSS X9, ways_enter(R8)(R15*4)
	MOVL  DI, ways_child(R8)(R15*4)
	INCQ  CX
	TESTL AX, AX
	JNE   hit
	DECQ  CX
	MOVLQSX ways_child(R8)(CX*4), AX
	TESTQ AX, AX
	JGE   node
	MOVL  AX, leaf+40(FP)
	MOVQ  CX, left+48(FP)
	RET

pop:
	DECQ    CX
	JLT     nothing
	MOVSS   ways_enter(R8)(CX*4), X9
	UCOMISS X7, X9
	JHI     pop // it lies behind what was met since
	MOVLQSX ways_child(R8)(CX*4), AX
	TESTQ   AX, AX
	JGE     node
	MOVL    AX, leaf+40(FP)
	MOVQ    CX, left+48(FP)
	RET

nothing:
	MOVL $0, leaf+40(FP)
	MOVQ $0, left+48(FP)
	RET
